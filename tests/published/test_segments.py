"""Body lengths as shares of stature, against the published table they come from.

Drillis and Contini, 1966, Body Segment Parameters, as given in Winter, Biomechanics and Motor Control of
Human Movement (values from memory): upper arm 0.186, forearm 0.146, hand 0.108, shoulder to hip 0.288, hip to
knee 0.245, knee to ankle 0.246, ankle height 0.039, shoulder to crown 0.182, of stature.
"""

import pytest

from wise_perch.core.trade.intake import lengths_of
from wise_perch.syllabus.shipped import built_in

UPPER_ARM, FOREARM, HAND, TRUNK, THIGH, SHANK, ANKLE, HEAD = (
    0.186,
    0.146,
    0.108,
    0.288,
    0.245,
    0.246,
    0.039,
    0.182,
)


@pytest.mark.parametrize("stature", [150, 170, 195])
@pytest.mark.parametrize(
    ("length", "share"),
    [
        ("arm", UPPER_ARM + FOREARM + HAND),
        ("trunk", TRUNK),
        ("leg", THIGH + SHANK + ANKLE),
        ("hand", HAND),
        ("shoulder-to-crown", HEAD),
    ],
)
def test_an_estimated_length_is_its_share_of_stature(length: str, share: float, stature: float) -> None:
    """Each estimate is the published share, to the millimetre it is shown in."""
    (found,) = [
        x for x in lengths_of(built_in().intake, stature_cm=stature, measured_cm={}) if x.length == length
    ]
    assert found.cm == pytest.approx(share * stature, abs=0.05)
    assert found.estimated


def test_the_parts_make_up_the_whole() -> None:
    """Leg, trunk and shoulder to crown stand on one another and come to the whole stature."""
    found = {x.length: x.cm for x in lengths_of(built_in().intake, stature_cm=1000, measured_cm={})}
    assert found["leg"] + found["trunk"] + found["shoulder-to-crown"] == pytest.approx(1000, abs=1)


def test_what_is_questioned_lies_around_the_published_share() -> None:
    """The bounds beyond which a length is asked about leave room on both sides of its share."""
    for length in built_in().intake.lengths:
        assert length.least < length.share < length.most
        assert length.share - length.least > 0.01
        assert length.most - length.share > 0.01

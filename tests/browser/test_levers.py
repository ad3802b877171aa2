"""Levers and Measures in the real interface: set up, moved, compared, kept and used elsewhere."""

import json
import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, query
from wise_perch.core.body.answers import Answer
from wise_perch.core.body.levers import settings_for, solve_one
from wise_perch.core.body.segments import Body, make_body
from wise_perch.demo.people import PEOPLE
from wise_perch.machine.postgres import Cluster
from wise_perch.syllabus.shipped import built_in

TALL, SHORT = "Halvard Nes", "Ragna Voll"
MECHANICS = built_in().mechanics


def body_of(name: str) -> Body:
    (person,) = [p for p in PEOPLE if p.name == name]
    assert person.stature_cm
    assert person.mass_kg
    return make_body(stature_cm=person.stature_cm, mass_kg=person.mass_kg, own_cm=person.lengths_cm)


def go_to_levers(page: Page, trainee: str) -> None:
    page.get_by_role("link", name="Today").first.click()
    page.get_by_role("link", name=trainee, exact=True).click()
    page.get_by_role("link", name="Levers", exact=True).click()
    expect(page.get_by_label("Set up")).to_be_visible()


def figures(page: Page) -> dict[str, float]:
    """The settings the figures in sight are for."""
    found: dict[str, float] = json.loads(
        page.get_by_test_id("figures").get_attribute("data-settings") or "{}"
    )
    return found


def turn(page: Page, label: str, value: str) -> None:
    """Type a setting and wait until the figures are for it."""
    page.get_by_label(label, exact=True).fill(value)
    knob = label.lower().replace(" ", "-")
    names = {"surface": "surface-height", "pads": "pad-height"}
    expect(page.get_by_test_id("figures")).to_have_attribute(
        "data-settings", re.compile(f'"{names.get(knob, knob)}":{re.escape(value)}[,}}]')
    )


@pytest.mark.parametrize("trainee", [TALL, SHORT])
def test_every_dialled_drill_is_set_up_from_the_screen_alone(coach: Page, trainee: str) -> None:
    """For two very different trainees: pick the drill, climb to a step of its ladder, and the figures are the
    core's for that body.
    """
    go_to_levers(coach, trainee)
    of = body_of(trainee)
    for drill in (d for d in built_in().drills.values() if d.dial):
        lever = MECHANICS.of_drill(drill.drill, drill.family)
        assert lever
        assert lever.currency
        assert drill.dial
        coach.get_by_label("Set up").select_option(drill.drill)
        ladder = coach.get_by_role("list", name=lever.currency.title)
        step = ladder.get_by_role("button").nth(1)
        step.click()
        expect(step).to_have_attribute("aria-current", "true")
        chosen = re.match(r"-?[\d.]+", step.inner_text())
        assert chosen
        expect(coach.get_by_test_id("figures")).to_have_attribute(
            "data-settings", re.compile(f'"{drill.dial.name}":{re.escape(chosen[0])}[,}}]')
        )
        settings = figures(coach)
        found = solve_one(lever.views[0].model, of, settings_for(lever, of, settings))
        assert isinstance(found, Answer), (drill.drill, settings, found)
        shown = coach.locator(f"[data-figure={lever.currency.figure}]").inner_text()
        value = found.figures[lever.currency.figure] * (
            100 if MECHANICS.figures[lever.currency.figure].unit == "share" else 1
        )
        assert float(re.match(r"-?[\d.]+", shown)[0]) == pytest.approx(value, abs=0.51)  # type: ignore[index]
        expect(coach.get_by_role("img", name=re.compile(f"^{lever.title}"))).to_be_visible()


def test_dragging_the_dial_never_shows_a_stale_figure(coach: Page) -> None:
    """While the handle is dragged every figure in sight belongs to the setting written beside it; at the end
    it is the handle's.
    """
    go_to_levers(coach, TALL)
    of = body_of(TALL)
    coach.get_by_label("Set up").select_option("pike-push-up")
    thumb = coach.get_by_role("slider", name="Hands to feet, cm")
    expect(thumb).to_be_visible()
    coach.evaluate("""() => {
            window.seen = [];
            const box = document.querySelector('[data-testid=figures]');
            const look = () => {
                const share = box.querySelector('[data-figure=share]');
                if (share && getComputedStyle(box).visibility === 'visible')
                    window.seen.push([box.dataset.settings, share.textContent]);
            };
            new MutationObserver(look).observe(
                box, {attributes: true, childList: true, subtree: true, characterData: true});
        }""")
    place = thumb.bounding_box()
    assert place
    coach.mouse.move(place["x"] + 16, place["y"] + 16)
    coach.mouse.down()
    box = coach.get_by_test_id("figures")
    for stretch in range(5):
        before = box.get_attribute("data-settings") or ""
        for step in range(1, 7):
            coach.mouse.move(place["x"] + 16 - 4 * (6 * stretch + step), place["y"] + 16)
        # however slow the machine: in the middle of the drag the figures come along
        expect(box).not_to_have_attribute("data-settings", before)
    coach.mouse.up()
    expect(coach.get_by_test_id("figures")).to_have_attribute(
        "data-settings", re.compile(f'"hands-to-feet":{thumb.get_attribute("aria-valuenow")}[,}}]')
    )
    seen = coach.evaluate("window.seen")
    assert len({settings for settings, _ in seen}) > 3
    for settings, words in seen:
        found = solve_one("pike-bottom", of, json.loads(settings))
        assert isinstance(found, Answer)
        assert words == f"{round(found.figures['share'] * 100):.0f} %"


def test_with_the_server_slow_no_old_figure_stays(coach: Page) -> None:
    """An answer that takes its time leaves the figures blank, not old; when it comes they are back."""
    go_to_levers(coach, TALL)
    coach.get_by_label("Set up").select_option("pike-push-up")
    expect(coach.get_by_test_id("figures")).to_be_visible()
    held = []
    coach.route("**/levers/pike-push-up/at", lambda route: held.append(route))
    coach.get_by_role("slider", name="Hands to feet, cm").press("ArrowLeft")
    expect(coach.get_by_test_id("figures")).to_be_hidden()
    for route in held:
        route.continue_()
    expect(coach.get_by_test_id("figures")).to_be_visible()


def test_out_of_reach_is_an_answer(coach: Page) -> None:
    """Too far is named with the farthest that goes, and cannot be used."""
    go_to_levers(coach, SHORT)
    coach.get_by_label("Set up").select_option("pike-push-up")
    turn(coach, "Hands to feet", "170")
    expect(
        coach.get_by_text(re.compile(rf"Not possible for {SHORT}: out of reach: feet at most 1\d\d cm"))
    ).to_be_visible()
    expect(coach.get_by_role("button", name="Use this setting")).to_be_disabled()
    coach.get_by_label("Hands to feet", exact=True).fill("999")
    expect(coach.get_by_text("From 20 to 180 cm.")).to_be_visible()


def test_a_setting_is_used_in_the_drill_and_on_the_bench(coach: Page, hall: Server, cluster: Cluster) -> None:
    """Use this setting: kept once, in the drill's panel, the record form, the Bench's dial and on the wall
    bars.
    """
    go_to_levers(coach, SHORT)
    coach.get_by_label("Set up").select_option("pike-push-up")
    turn(coach, "Hands to feet", "84")
    coach.get_by_role("button", name="Use this setting").click()
    expect(coach.get_by_text("In use for pike push-up from now on.")).to_be_visible()
    ((kept,),) = query(hall, cluster, "select settings from dial_setting")
    assert kept == {"hands-to-feet": 84, "surface-height": 0}
    coach.get_by_role("link", name=SHORT).click()
    coach.get_by_role("button", name=re.compile("^Push line, .* bring it near")).click()
    coach.get_by_role("button", name=re.compile(r"^Pike push-up · \d+ % of body weight on the hands")).click()
    dialog = coach.get_by_role("dialog")
    expect(dialog.get_by_text("Set to hands to feet 84 cm")).to_be_visible()
    expect(dialog.get_by_label("Hands to feet, cm")).to_have_value("84")
    expect(dialog.get_by_text(re.compile(r"hand-load \d+ body-weight s")).first).to_be_visible()
    coach.keyboard.press("Escape")
    coach.get_by_role("link", name="Bench", exact=True).click()
    expect(coach.get_by_role("heading", level=1)).to_contain_text("Tests for")
    coach.get_by_role("link", name="Rep maximum").click()
    coach.get_by_label("Which drill?").select_option("pike-push-up")
    expect(
        coach.get_by_text(re.compile(f"For {SHORT}, hands to feet 84 cm, surface 0 cm: Feet at most"))
    ).to_be_visible()


def test_figures_open_their_formula_inputs_and_source(coach: Page) -> None:
    """A figure says how it was worked out, from which lengths, measured or estimated, and where the model
    comes from.
    """
    go_to_levers(coach, TALL)
    coach.get_by_role("button", name=re.compile("^On the hands")).click()
    dialog = coach.get_by_role("dialog")
    expect(dialog.get_by_text("distance to the centre of mass")).to_be_visible()
    expect(dialog.get_by_text("Arm: 83 cm, measured")).to_be_visible()
    expect(dialog.get_by_text(re.compile("Foot: .* estimated from stature"))).to_be_visible()
    expect(dialog.get_by_text(re.compile("Winter, Biomechanics"))).to_be_visible()


def test_two_settings_and_two_trainees_are_compared(coach: Page) -> None:
    """A held setting and another trainee stand under the figures, and pale in the drawing."""
    go_to_levers(coach, TALL)
    coach.get_by_label("Set up").select_option("raised-pike-push-up")
    turn(coach, "Surface", "30")
    coach.get_by_role("button", name="Hold to compare").click()
    turn(coach, "Hands to feet", "80")
    expect(
        coach.get_by_test_id("figures").get_by_text(re.compile(r"^Held \(.* / 30\): \d+ %"))
    ).to_be_visible()
    coach.get_by_label("Compare with another trainee").select_option(SHORT)
    share = solve_one("pike-bottom", body_of(SHORT), {"hands-to-feet": 80, "surface-height": 30})
    assert isinstance(share, Answer)
    expect(
        coach.get_by_test_id("figures").get_by_text(f"{SHORT}: {share.figures['share'] * 100:.0f} %")
    ).to_be_visible()
    coach.get_by_role("button", name="Stop comparing").click()
    expect(coach.get_by_test_id("figures").get_by_text(SHORT)).to_be_hidden()


def test_over_and_under_by_lean_and_speed(coach: Page) -> None:
    """The sliders say saveable or lost, on which side, and what the fingers do."""
    go_to_levers(coach, TALL)
    coach.get_by_label("Set up").select_option("free-hold-10")
    told = coach.get_by_test_id("save")
    expect(told).to_have_text("Saveable")
    coach.get_by_label("Lean toward the fingers", exact=True).fill("12")
    expect(told).to_have_text("Lost over")
    coach.get_by_label("Lean toward the fingers", exact=True).fill("-3")
    expect(told).to_have_text("Lost under")
    coach.get_by_label("How fast, a second", exact=True).fill("20")
    expect(told).to_have_text("Saveable")
    expect(coach.get_by_text(re.compile("Fingers|fingers rest"))).not_to_have_count(0)


def test_measures_are_estimated_asked_about_and_kept(coach: Page, hall: Server, cluster: Cluster) -> None:
    """From nothing entered to own lengths: metres refused, a doubtful arm asked about, nothing lost, then
    kept and used.
    """
    coach.get_by_role("link", name="Brage Sunn", exact=True).click()
    coach.get_by_role("link", name="Levers", exact=True).click()
    coach.get_by_role("link", name="Enter stature first").click()
    stature = coach.get_by_label("S · Stature, cm")
    stature.fill("1,81")
    coach.get_by_role("button", name="Keep measures").click()
    expect(coach.get_by_role("alert")).to_contain_text("looks like metres")
    stature.fill("181")
    coach.get_by_label("Mass, kg").fill("78,5")
    coach.get_by_label("Arm, cm", exact=True).fill("98")
    coach.get_by_role("button", name="Keep measures").click()
    expect(coach.get_by_text("Arm of 98 cm is far from the usual 80 cm")).to_be_visible()
    assert query(
        hall,
        cluster,
        "select count(*) from intake join trainee on trainee.id = trainee_id where name = 'Brage Sunn'",
    ) == [(0,)]
    coach.get_by_role("button", name="It is so: keep it").click()
    expect(coach.get_by_text("Kept. Everything made from these measures")).to_be_visible()
    expect(coach.get_by_text("estimated 52.1 cm")).to_be_visible()
    coach.get_by_role("link", name="To the levers").click()
    expect(coach.get_by_text("181 cm, 78.5 kg")).to_be_visible()
    expect(coach.get_by_role("button", name=re.compile("^On the hands"))).to_be_visible()


def test_the_jump_and_the_first_rep_stand_below(coach: Page) -> None:
    """Between pikes and raised ones the jump is said for this trainee with settings in between; outlooks say
    they are estimates.
    """
    go_to_levers(coach, TALL)
    jumps = coach.get_by_role("region", name="Jumps in share")
    expect(jumps.get_by_text(re.compile("From Pike push-up .* to Raised pike push-up"))).to_be_visible()
    expect(jumps.get_by_text(re.compile("In between: hands to feet")).first).to_be_visible()
    first = coach.get_by_role("region", name="First rep")
    expect(first.get_by_text("An estimate, never a gate").first).to_be_visible()
    expect(first.get_by_text(re.compile("degree of fold"))).to_be_visible()


def test_the_gap_finder_shows_the_jump_for_one_trainee(coach: Page) -> None:
    """On the Syllabus screen: pick a trainee, and a jump is said in share with settings in between."""
    coach.get_by_role("link", name="Syllabus").click()
    coach.get_by_label("Jumps in share for").select_option(TALL)
    expect(
        coach.get_by_text(re.compile("From Pike push-up .* to Raised pike push-up .* points of body weight"))
    ).to_be_visible()
    expect(coach.get_by_text(re.compile("In between: hands to feet")).first).to_be_visible()
    coach.get_by_role("link", name="Set up the lower one").first.click()
    expect(coach.get_by_label("Set up")).to_be_visible()

"""A goal of one's own, broken down and trained for, in the real interface."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, query
from tests.browser.test_accessibility import assert_accessible
from tests.browser.test_goals import go_to
from wise_perch.machine.postgres import Cluster


def test_a_goal_of_ones_own_is_broken_down_and_trained_for(
    coach: Page, hall: Server, cluster: Cluster
) -> None:
    """Named, its steps taken in, left out, worded and added to; kept as a version; chosen for somebody, whose
    way lights up and whose week works toward it. What is not kept yet survives a reload.
    """
    coach.get_by_role("link", name="Syllabus").click()
    coach.get_by_role("link", name="Break down a goal").click()
    coach.get_by_label("The skill").fill("Tuck balance on two canes")
    coach.get_by_role("button", name="Break it down").click()
    expect(coach.get_by_role("heading", level=1)).to_have_text("Tuck balance on two canes")
    expect(coach.get_by_label("Surface")).to_have_value("canes")
    bay = coach.get_by_role("region", name="The bay")
    expect(bay.get_by_text("have it: balance").first).to_be_visible()
    expect(coach.get_by_text(re.compile(r"Jorun Eik.* on tuck handstand\."))).to_be_visible()
    assert_accessible(coach, "Breakdown")
    coach.set_viewport_size({"width": 1280, "height": 800})

    bay.get_by_role("button", name=re.compile("^Step 4, Tuck balance on parallettes: in")).click()
    expect(coach.get_by_text("surface gets harder by more than one step")).to_be_visible()
    coach.get_by_role("button", name="Put in: Tuck balance on parallettes").click()
    expect(coach.get_by_text("A step is too big.")).to_be_hidden()
    coach.get_by_role("listitem").filter(has_text="Momentum").get_by_role("button", name="try it").click()
    expect(bay.get_by_role("button", name=re.compile("Jumped tuck balance: in"))).to_be_visible()
    name = bay.get_by_label("Name of step 2")
    name.fill("Three quick breaths on the canes")
    name.blur()
    amount = bay.get_by_label("s of step 2")
    amount.fill("0")
    amount.blur()
    expect(coach.get_by_role("alert")).to_contain_text("met by doing nothing")
    expect(coach.get_by_role("button", name="Keep this line")).to_be_disabled()
    amount = bay.get_by_label("s of step 2")
    amount.fill("5")
    amount.blur()
    expect(coach.get_by_role("button", name="Keep this line")).to_be_enabled()
    coach.reload()
    expect(bay.get_by_label("Name of step 2")).to_have_value("Three quick breaths on the canes")
    # a standard put right leaves what was worded, taken in and left out
    standard = coach.get_by_label("Standard", exact=True)
    standard.fill("12")
    standard.blur()
    expect(bay.get_by_label("s of step 1", exact=True)).to_have_value("12")
    expect(bay.get_by_label("Name of step 2", exact=True)).to_have_value("Three quick breaths on the canes")
    expect(bay.get_by_role("button", name=re.compile("Jumped tuck balance: in"))).to_be_visible()
    bay.get_by_role("button", name="Move step 2 down").click()
    expect(bay.get_by_label("Name of step 3", exact=True)).to_have_value("Three quick breaths on the canes")
    standard.fill("14")
    standard.blur()
    expect(bay.get_by_label("s of step 1", exact=True)).to_have_value("14")
    expect(bay.get_by_label("Name of step 3", exact=True)).to_have_value("Three quick breaths on the canes")
    bay.get_by_role("button", name="Move step 3 up").click()
    bay.get_by_label("Put in a drill that is there").select_option("free-hold-30")
    expect(bay.get_by_role("button", name=re.compile("^Step 2, Free hold, 30 s: in"))).to_be_visible()
    bay.get_by_role("button", name="Move step 2 down").click()
    expect(bay.get_by_role("button", name=re.compile("^Step 3, Free hold, 30 s: in"))).to_be_visible()
    coach.get_by_role("button", name="Keep this line").click()
    expect(coach.get_by_text("is a goal now, with a line of its own")).to_be_visible()
    assert query(hall, cluster, "select note from syllabus_version") == [
        ("A goal of our own: Tuck balance on two canes",)
    ]

    go_to(coach, "Jorun Eik")
    coach.get_by_role("button", name="Change", exact=True).click()
    dialog = coach.get_by_role("dialog")
    chosen = dialog.get_by_role("checkbox", checked=True)
    for left in reversed(range(chosen.count())):
        chosen.first.uncheck()
        expect(chosen).to_have_count(left)
    dialog.get_by_label("Tuck balance on two canes").check()
    dialog.get_by_role("button", name="Keep").click()
    expect(coach.get_by_role("region", name="Tuck balance on two canes line")).to_be_visible()
    expect(
        coach.get_by_role("button", name=re.compile("^Three quick breaths on the canes .*on the way"))
    ).to_be_visible()
    coach.get_by_role("link", name="Plan", exact=True).first.click()
    expect(coach.get_by_role("heading", level=1)).to_contain_text("Jorun Eik")

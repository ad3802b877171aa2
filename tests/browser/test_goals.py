"""What a coach reads off the trainee's page, and how the syllabus is made one's own, in the real
interface.
"""

import re
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import Server, arrive, query, sent
from wise_perch.machine.postgres import Cluster


def go_to(page: Page, trainee: str) -> None:
    page.get_by_role("link", name="Today").first.click()
    page.get_by_role("link", name=trainee, exact=True).click()


def headline(page: Page, text: str) -> None:
    expect(page.get_by_role("heading", level=1)).to_have_text(text)


def test_three_trainees_three_reasons(coach: Page) -> None:
    """A beginner, somebody near intermediate, and one strong but stiff: each page says what holds back, why,
    and what to do.
    """
    work = coach.get_by_role("region", name="What to work on")
    go_to(coach, "Tove Brenna")
    headline(coach, "Tove Brenna: Confidence upside down is what limits the freestanding hold.")
    expect(
        coach.get_by_text(re.compile("Chest-to-wall hold: confidence [12] of 5. One step back"))
    ).to_be_visible()
    expect(coach.get_by_text(re.compile(r"\d+ later drills wait for chest-to-wall hold"))).to_be_visible()
    expect(work.get_by_role("button", name=re.compile("^Work on now Chest-to-wall hold"))).to_be_visible()
    expect(work.get_by_role("button", name=re.compile("^Step before, for a poor day "))).to_be_visible()

    go_to(coach, "Runa Aske")
    headline(coach, "Runa Aske: Balance on the over side is what limits the freestanding hold.")
    expect(coach.get_by_text(re.compile(r"\d of the last \d falls went over"))).to_be_visible()
    expect(work.get_by_role("button", name=re.compile("^Work on now Heel float"))).to_be_visible()

    go_to(coach, "Ragna Voll")
    expect(
        coach.get_by_text(re.compile("Stay the course: changing the programme now is the common loss"))
    ).to_be_visible()

    go_to(coach, "Halvard Nes")
    headline(coach, "Halvard Nes: Mobility is what limits the straddle press.")
    expect(work.get_by_role("button", name=re.compile("^Work on now Pancake"))).to_be_visible()
    # the bays of the goal stand near, the others step back
    expect(coach.get_by_role("region", name="Press line")).to_be_visible()
    expect(coach.get_by_role("region", name="Balance line")).to_be_hidden()
    coach.get_by_role("button", name=re.compile("^Balance line, .* bring it near")).click()
    expect(coach.get_by_role("region", name="Balance line")).to_be_visible()
    coach.get_by_role("button", name="step back: Balance line").click()
    expect(coach.get_by_role("region", name="Balance line")).to_be_hidden()


def test_choosing_a_goal_lights_the_way(coach: Page) -> None:
    """Without a goal the page asks for one; chosen, the path lights up and the leading goal can be
    changed.
    """
    go_to(coach, "Brage Sunn")
    headline(coach, "Brage Sunn")
    coach.get_by_role("button", name="Choose goals").click()
    dialog = coach.get_by_role("dialog")
    dialog.get_by_label("Straddle press").check()
    dialog.get_by_label("Hand walk").check()
    dialog.get_by_role("button", name="Keep").click()
    headline(coach, "Brage Sunn: Confidence upside down is what limits the straddle press.")
    expect(coach.get_by_role("button", name=re.compile("^Low-surface hold .*on the way"))).to_be_visible()
    coach.get_by_role("button", name="Hand walk", exact=True).click()
    expect(coach.get_by_role("region", name="Balance line")).to_be_visible()
    expect(coach.get_by_role("button", name=re.compile("^Hand walk .*on the way"))).to_be_visible()


def test_a_drill_panel_tells_all_and_takes_a_waiver(coach: Page) -> None:
    """Gate with origin, dose, cue, fault with its drill, why not; a waiver with its reason, shown, and taken
    back.
    """
    go_to(coach, "Tove Brenna")
    coach.get_by_role("button", name=re.compile("^Back-to-wall hold not met yet")).click()
    dialog = coach.get_by_role("dialog")
    expect(dialog.get_by_text("Back-to-wall hold opens with chest-to-wall hold (20 s), met.")).to_be_visible()
    expect(dialog.get_by_text("30 s, clean (common practice)")).to_be_visible()
    expect(
        dialog.get_by_text(re.compile("2–4 sets at 60–70 % of the best recent clean one, rest 30 s or more"))
    ).to_be_visible()
    expect(dialog.get_by_text("Lock the arms. Look between the hands.")).to_be_visible()
    dialog.get_by_text("3 faults to look for").click()
    expect(dialog.get_by_text("“Push tall, shoulders to the ears.”", exact=True)).to_be_visible()
    dialog.get_by_role("button", name="Wall shrugs").first.click()
    expect(dialog.get_by_role("heading", name="Wall shrugs")).to_be_visible()
    coach.keyboard.press("Escape")

    coach.get_by_role("button", name=re.compile("^Chest-to-wall hold [0-9. of]*s not met yet")).click()
    dialog.get_by_role("button", name="Waive this gate").click()
    dialog.get_by_label("Why may it pass?").fill("Held 40 s at another hall")
    dialog.get_by_role("button", name="Waive the gate").click()
    expect(
        dialog.get_by_text(re.compile("Held 40 s at another hall. It counts as met, never as proven."))
    ).to_be_visible()
    coach.keyboard.press("Escape")
    expect(
        coach.get_by_role("button", name=re.compile("^Chest-to-wall hold waived waived: waived on"))
    ).to_be_visible()
    expect(
        coach.get_by_role("button", name=re.compile("^Back-to-wall hold 30 s not met yet: not tried yet"))
    ).to_be_visible()
    coach.get_by_role("button", name=re.compile("^Chest-to-wall hold waived")).click()
    dialog.get_by_role("button", name="Take the waiver back").click()
    expect(dialog.get_by_role("button", name="Waive this gate")).to_be_visible()


def test_a_float_is_recorded_in_touches(coach: Page, hall: Server, cluster: Cluster) -> None:
    """The set form offers each way a drill is measured, a stage fills without touching the seconds, and what
    the set asked for is kept with it.
    """
    go_to(coach, "Jorun Eik")
    first = coach.get_by_role("button", name=re.compile("^Balance line|^Heel float")).first
    opens_line = (first.get_attribute("aria-label") or "").startswith("Balance line")
    first.click()
    if opens_line:
        coach.get_by_role("button", name=re.compile("^Heel float")).click()
    dialog = coach.get_by_role("dialog")
    dialog.get_by_role("radio", name="Touches in 15 s").check()
    dialog.get_by_role("spinbutton", name="Touches", exact=True).fill("4")
    dialog.get_by_label("Asked for, empty where it was open").fill("3")
    dialog.get_by_role("radio", name="clean").check()
    dialog.get_by_role("button", name="Keep").click()
    expect(dialog.get_by_text(re.compile("4 touches in 15 s · asked 3 touches · clean"))).to_be_visible()
    kept = "select value, asked from evidence where source = 'live' and drill = 'heel-float'"
    assert sent(hall, cluster, kept, until=[(4.0, 3.0)]) == [(4.0, 3.0)]


def test_the_syllabus_is_made_ones_own(coach: Page, hall: Server, cluster: Cluster, tmp_path: Path) -> None:
    """A failing check keeps an edit out; mended, the preview names trainees; kept, compared, exported,
    imported, gone back from.
    """
    coach.get_by_role("link", name="Syllabus").click()
    headline(coach, "126 drills on 9 lines.")
    coach.get_by_role("tab", name="Exit").click()
    coach.get_by_role("button", name=re.compile("^Free exit 5 of 5")).click()
    editor = coach.get_by_role("region", name="Edit Free exit")
    editor.get_by_role("button", name="Retire").click()
    expect(coach.get_by_role("alert")).to_contain_text("needs free-exit, which is retired")
    expect(coach.get_by_role("alert")).to_contain_text(re.compile(r"line \d+: "))
    expect(coach.get_by_role("button", name="Keep as my own")).to_be_disabled()
    coach.get_by_role("button", name="Take the last edit back").click()
    expect(coach.get_by_role("alert")).to_be_hidden()

    coach.get_by_role("tab", name="Inversion").click()
    coach.get_by_role("button", name=re.compile("^Low-surface hold 30 s")).click()
    editor = coach.get_by_role("region", name="Edit Low-surface hold")
    editor.get_by_role("button", name="Gate").click()
    editor.get_by_label("Seconds, at least").fill("400")
    editor.get_by_role("button", name="Set", exact=True).click()
    expect(coach.get_by_text(re.compile(r"It changes the wall bars of \w+ trainees"))).to_be_visible()
    editor.get_by_role("button", name="Gate").click()
    editor.get_by_label("Seconds, at least").fill("35")
    editor.get_by_role("button", name="Set", exact=True).click()
    editor.get_by_role("button", name="Cues").click()
    editor.get_by_label("Cues, one a line").fill("Hips float like the tram bell.")
    editor.get_by_role("button", name="Set", exact=True).click()
    # what is not kept survives a reload
    expect(coach.get_by_text("All checks pass.")).to_be_visible()
    coach.reload()
    headline(coach, "One edit not kept yet.")
    expect(coach.get_by_text("Low-surface hold: gate, cues")).to_be_visible()
    coach.get_by_role("button", name="Keep as my own").click()
    expect(coach.get_by_text("Your own copy")).to_be_visible()
    assert query(hall, cluster, "select note from syllabus_version") == [("Low-surface hold: gate, cues",)]

    coach.get_by_role("button", name="Versions and files").click()
    sheet = coach.get_by_role("dialog")
    sheet.get_by_text("Compared with ours: 2 differences").click()
    expect(sheet.get_by_text("Hips float like the tram bell.")).to_be_visible()
    with coach.expect_download() as download:
        sheet.get_by_role("link", name="Export YAML").click()
    text = Path(download.value.path()).read_text("utf-8")
    assert "Hips float like the tram bell." in text
    (tmp_path / "bad.yaml").write_text(
        text.replace("measure: hold, value: 35.0", "measure: hold, value: -1"), "utf-8"
    )
    sheet.get_by_label("Import YAML").set_input_files(tmp_path / "bad.yaml")
    expect(sheet.get_by_role("alert")).to_contain_text(
        re.compile(r"line \d+: low-surface-hold: a gate of -1 is met by doing nothing")
    )
    (tmp_path / "good.yaml").write_text(text.replace("value: 35.0", "value: 36"), "utf-8")
    sheet.get_by_label("Import YAML").set_input_files(tmp_path / "good.yaml")
    sheet.get_by_role("button", name="Keep as my own").click()
    expect(sheet.get_by_text("From good.yaml")).to_be_visible()
    sheet.get_by_role("button", name="Go back to ours").click()
    expect(coach.get_by_text("The syllabus as it ships")).to_be_visible()


def test_a_rung_is_inserted_into_a_gap(coach: Page) -> None:
    """A gate raised far above the rung below leaves a gap; the proposed rung goes in and closes it."""
    coach.get_by_role("link", name="Syllabus").click()
    coach.get_by_role("button", name=re.compile("^Hollow hold")).click()
    editor = coach.get_by_role("region", name="Edit Hollow hold")
    editor.get_by_role("button", name="Gate").click()
    editor.get_by_label("Seconds, at least").fill("100")
    editor.get_by_role("button", name="Set", exact=True).click()
    expect(coach.get_by_text("is 3.3 times as much. 55 s would stand between.")).to_be_visible()
    coach.get_by_role("button", name="Put it in").click()
    expect(coach.get_by_role("region", name="Edit Hollow hold, 55 s")).to_be_visible()
    headline(coach, "Two edits not kept yet.")


def test_an_intake_from_the_first_evening(browser: Browser, hall: Server) -> None:
    """On a phone, by touch: a caution answered with yes closes what is upside down until the coach confirms;
    first tests follow.
    """
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True)
    page = context.new_page()
    arrive(page, hall)
    page.get_by_role("link", name="Brage Sunn", exact=True).tap()
    page.get_by_role("link", name="Intake: not done yet").tap()
    expect(page.get_by_role("group", name="Under age?")).to_be_visible()
    for question in page.get_by_role("group").filter(has=page.get_by_role("radio", name="no")).all():
        question.get_by_label("no").check()
    page.get_by_role("group", name="Reflux?").get_by_label("yes").check()
    page.get_by_label("Freestanding hold, 10 s in 7 of 10").check()
    page.get_by_label("Stature, cm").fill("1.74")
    page.get_by_role("button", name="Keep the intake").tap()
    expect(page.get_by_role("alert").filter(has_text="looks like metres")).to_be_visible()
    # nothing typed is lost on the way
    page.reload()
    expect(page.get_by_role("group", name="Reflux?").get_by_label("yes")).to_be_checked()
    page.get_by_label("Stature, cm").fill("174")
    page.get_by_role("button", name="Keep the intake").tap()
    expect(page.get_by_text("Kept. Earlier answers stay on record.")).to_be_visible()
    tests = page.get_by_role("region", name="First tests")
    expect(tests).to_contain_text("Hollow hold")
    expect(tests.get_by_role("listitem").filter(has_text="A low box")).to_be_hidden()
    expect(page.get_by_text("estimated: 76.6 cm")).to_be_visible()
    page.get_by_role("link", name="Brage Sunn").last.tap()
    expect(page.get_by_text("Nothing upside down yet.")).to_be_visible()
    page.get_by_role("link", name="Bench", exact=True).tap()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Tests for")
    page.get_by_role("link", name="Ten free tries").tap()
    page.get_by_role("checkbox").check()
    expect(page.get_by_role("button", name="Begin the test")).to_be_disabled()
    page.get_by_role("link", name="Confirm in the intake").tap()
    page.get_by_label("That was done, and I confirm.").check()
    page.get_by_role("button", name="Keep the intake").tap()
    expect(tests).to_contain_text("Low-surface hold")
    page.get_by_role("link", name="Brage Sunn").last.tap()
    expect(page.get_by_text("Nothing upside down yet.")).to_be_hidden()
    expect(page.get_by_role("button", name=re.compile("^Work on now Low-surface hold"))).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth"), (
        "the page does not scroll sideways"
    )
    # a confirmation speaks only of the answers it was given for
    page.get_by_role("link", name="Intake", exact=True).tap()
    expect(page.get_by_label("That was done, and I confirm.")).to_be_checked()
    page.get_by_role("group", name="Ear trouble or dizziness?").get_by_label("yes").check()
    expect(page.get_by_label("That was done, and I confirm.")).not_to_be_checked()
    context.close()


def test_a_school_turns_the_order(coach: Page) -> None:
    """Picked for everybody, a school moves the rungs of a trainee's wall; an exception for that trainee moves
    them back.
    """

    bars = coach.get_by_role("region", name="Inversion line").get_by_role(
        "button", name=re.compile("^(Back|Chest)-to-wall hold (?!,)")
    )
    chest, back = re.compile("^Chest-to-wall hold"), re.compile("^Back-to-wall hold")
    go_to(coach, "Tove Brenna")
    # in the document the lowest rung comes first
    expect(bars).to_have_text([chest, back])
    coach.get_by_role("link", name="Syllabus").click()
    coach.get_by_role("tab", name="Schools").click()
    coach.get_by_label(re.compile("^Back to the wall: easier")).click()
    expect(coach.get_by_label(re.compile("^Back to the wall: easier"))).to_be_checked()
    go_to(coach, "Tove Brenna")
    expect(bars).to_have_text([back, chest])
    coach.get_by_role("button", name="Schools").click()
    coach.get_by_label("Which way to the wall first").select_option(
        label="Chest to the wall: a better line, more work for the front"
    )
    coach.get_by_role("dialog").get_by_role("button", name="Keep").click()
    expect(coach.get_by_role("button", name="Schools (1 own)")).to_be_visible()
    expect(bars).to_have_text([chest, back])


def test_the_walk_by_keyboard_alone(coach: Page) -> None:
    """Bars open by Enter and give the focus back, lines change by arrow keys, a gate is set and taken back
    without a pointer.
    """
    go_to(coach, "Halvard Nes")
    bar = coach.get_by_role("button", name=re.compile("^Pancake "))
    bar.focus()
    coach.keyboard.press("Enter")
    expect(coach.get_by_role("dialog", name="Pancake")).to_be_visible()
    coach.keyboard.press("Escape")
    expect(bar).to_be_focused()
    coach.get_by_role("link", name="Syllabus").focus()
    coach.keyboard.press("Enter")
    coach.get_by_role("tab", name="Shape").focus()
    coach.keyboard.press("ArrowDown")
    expect(coach.get_by_role("tab", name="Inversion")).to_have_attribute("aria-selected", "true")
    expect(coach.get_by_role("region", name="Inversion line")).to_be_visible()
    coach.get_by_role("button", name=re.compile("^Pike hold 30 s")).focus()
    coach.keyboard.press("Enter")
    coach.get_by_role("region", name="Edit Pike hold").get_by_role("button", name="Gate").focus()
    coach.keyboard.press("Enter")
    coach.get_by_label("Seconds, at least").fill("31")
    coach.keyboard.press("Enter")
    headline(coach, "One edit not kept yet.")
    coach.get_by_role("button", name="Take the last edit back").focus()
    coach.keyboard.press("Enter")
    headline(coach, "126 drills on 9 lines.")


def test_two_desks_and_one_syllabus(coach: Page, browser: Browser, hall: Server) -> None:
    """What was kept at another desk meanwhile is not written over: the edit stays, is put on the newest
    version, and then kept.
    """
    context = browser.new_context()
    other = context.new_page()
    arrive(other, hall)
    for page, drill, seconds in ((coach, "Pike hold", "31"), (other, "Right-angle hold", "32")):
        page.get_by_role("link", name="Syllabus").click()
        page.get_by_role("tab", name="Inversion").click()
        page.get_by_role("button", name=re.compile(f"^{drill} 30 s")).click()
        page.get_by_role("region", name=f"Edit {drill}").get_by_role("button", name="Gate").click()
        page.get_by_label("Seconds, at least").fill(seconds)
        page.get_by_role("button", name="Set", exact=True).click()
        expect(page.get_by_text("All checks pass")).to_be_visible()
    coach.get_by_role("button", name="Keep as my own").click()
    expect(coach.get_by_text("Your own copy")).to_be_visible()
    other.get_by_role("button", name="Keep as my own").click()
    expect(other.get_by_text("The syllabus was changed elsewhere meanwhile")).to_be_visible()
    expect(other.get_by_text("Pike hold, gate: 30 s became 31 s")).to_be_visible()
    other.reload()
    other.get_by_role("button", name="Keep as my own").click()
    other.get_by_role("button", name="Put these edits on the newest version").click()
    expect(other.get_by_text("All checks pass")).to_be_visible()
    other.get_by_role("button", name="Keep as my own").click()
    headline(other, "126 drills on 9 lines.")
    other.get_by_role("button", name="Versions and files").click()
    expect(other.get_by_text("Compared with ours: 2 differences")).to_be_visible()
    context.close()

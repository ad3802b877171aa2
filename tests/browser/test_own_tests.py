"""A coach's own test: made through the screen, planned for one of two, run, and fed into its drill's gate."""

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, hold, query, sent
from tests.browser.test_accessibility import assert_accessible
from tests.browser.test_test_day import ready
from wise_perch.machine.postgres import Cluster

KEPT = (
    "select r.subject, e.measure, e.value >= 30 from evidence e join test_run r on r.id = e.test_run_id"
    " where r.test = 'own-hollow-two-goes' order by e.try_number"
)


def test_a_test_of_ones_own_is_made_planned_and_run(coach: Page, hall: Server, cluster: Cluster) -> None:
    """Its checks as it is made; ours set aside beside it; one of two people does it, the other another
    drill; the best of its tries is held against the gate.
    """
    coach.get_by_role("link", name="Syllabus").click()
    coach.get_by_role("tab", name="Tests").click()
    coach.get_by_role("button", name="A test of my own").click()
    coach.get_by_label("What is it called?").fill("Hollow, two goes")
    coach.get_by_label("For which drill?").select_option("hollow-hold")
    expect(coach.get_by_text("Its gate: 30 s")).to_be_visible()
    coach.get_by_label("Tries at most").fill("2")
    coach.get_by_label("Rest between, s").fill("20")
    assert_accessible(coach, "Own tests")
    coach.set_viewport_size({"width": 1280, "height": 800})
    coach.get_by_role("button", name="Make it").click()
    coach.get_by_role("button", name="Set aside: Wrist bend").click()
    expect(coach.get_by_text("Wrist bend: set aside")).to_be_visible()
    coach.get_by_role("button", name="Change Hollow, two goes").click()
    coach.get_by_label("Again after, days").fill("28")
    coach.get_by_role("button", name="Change it").click()
    coach.get_by_role("button", name="Keep as my own").click()
    expect(coach.get_by_text("Your own copy")).to_be_visible()

    coach.goto(f"{hall.url}/test-days/new")
    for name in ("Runa Aske", "Kaia Hovden"):
        coach.get_by_role("checkbox", name=name).check()
    expect(coach.get_by_label("Simple hold")).to_be_visible()
    expect(coach.get_by_label("Wrist bend")).to_have_count(0)
    for test in ("Hollow, two goes", "Simple hold"):
        coach.get_by_role("checkbox", name=test).check()
    coach.get_by_role("list", name="Who does Hollow, two goes?").get_by_label("Kaia Hovden").uncheck()
    coach.get_by_label("Simple hold: which drill for Kaia Hovden").select_option("forearm-plank")
    plan = coach.get_by_role("region", name="The plan")
    expect(plan.get_by_role("listitem")).to_contain_text(
        [
            "Simple hold: forearm plank, hollowed Kaia Hovden",
            "Simple hold: tuck hollow hold Runa Aske",
            "Hollow, two goes Runa Aske",
        ]
    )
    coach.get_by_role("button", name="Keep this test day").click()
    expect(coach.get_by_role("tab", name="Kaia Hovden")).to_be_visible()

    ((trainee,),) = query(hall, cluster, "select id from trainee where name = 'Runa Aske'")
    coach.clock.install()
    ready(coach, f"{hall.url}/trainees/{trainee}", "own-hollow-two-goes")
    hold(coach, 31, "Space")
    coach.keyboard.press("Enter")
    coach.clock.fast_forward(25_000)
    hold(coach, 12, "Space")
    coach.keyboard.press("Enter")
    coach.get_by_role("button", name="See the decision").click()
    expect(coach.get_by_role("heading", name="The gate is reached.")).to_be_visible()
    kept = [("hollow-hold", "hold", True), ("hollow-hold", "hold", False)]
    assert sent(hall, cluster, KEPT, until=kept) == kept


def test_a_goal_is_made_out_of_drills_that_are_there(coach: Page, hall: Server, cluster: Cluster) -> None:
    """Named, what it asks for and what helps picked, changed once more, kept, and offered to a trainee."""
    coach.get_by_role("link", name="Syllabus").click()
    coach.get_by_role("tab", name="Goals").click()
    coach.get_by_role("button", name="A goal of my own").click()
    form = coach.get_by_role("form", name="The goal")
    form.get_by_label("What is it called?").fill("A quiet minute")
    expect(form.get_by_role("button", name="Make it")).to_be_disabled()
    form.get_by_label("Asks for: one more").select_option("free-hold-60")
    form.get_by_label("Helped by: one more").select_option("hollow-hold")
    form.get_by_label("Helped by: one more").select_option("l-sit")
    form.get_by_role("button", name="Helped by: take l-sit out").click()
    form.get_by_role("button", name="Make it").click()
    expect(coach.get_by_text("A quiet minute: the goal")).to_be_visible()
    coach.get_by_role("button", name="Change A quiet minute").click()
    form.get_by_label("What to expect").fill("A winter and more.")
    form.get_by_role("button", name="Change it").click()
    expect(coach.get_by_text("free hold, 60 s. A winter and more.")).to_be_visible()
    expect(coach.get_by_text("All checks pass.")).to_be_visible()
    coach.get_by_role("button", name="Keep as my own").click()
    expect(coach.get_by_text("Your own copy")).to_be_visible()
    ((trainee,),) = query(hall, cluster, "select id from trainee where name = 'Runa Aske'")
    coach.goto(f"{hall.url}/trainees/{trainee}")
    coach.get_by_role("button", name="Change", exact=True).click()
    expect(coach.get_by_role("dialog").get_by_label("A quiet minute")).to_be_visible()

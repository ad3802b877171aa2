"""What can go wrong in the store, named by what the caller can do about it."""


class StoreError(Exception):
    """The root of the store's errors; its text is a sentence for the coach."""


class NotFound(StoreError):
    """There is no such record among this coach's."""


class Conflict(StoreError):
    """The record cannot be kept as it is: it contradicts one that is there already."""


class Unavailable(StoreError):
    """The database cannot be reached now; nothing was kept, so sending again later is safe."""


CONSTRAINTS = {
    "coach_email_taken": "There is already a coach with this email.",
    "hall_pkey": "This id already stands for another hall.",
    "trainee_name_taken": "You already have a trainee with this name.",
    "training_group_name_taken": "There is already a group with this name.",
    "room_name_taken": "There is already a room with this name.",
    "test_run_once": "This trainee already has a run of this test that started at that moment.",
    "waiver_once": "This gate is waived already; take that back first.",
    "evidence_try_once": "There is already a try with this number in the run.",
}
"""The sentence for every constraint that a caller's data can break, by the constraint's name."""

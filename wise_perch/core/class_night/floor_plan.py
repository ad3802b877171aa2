"""Stations and coaches with what is booked on them, and how sessions are laid onto them block by block."""

from bisect import insort
from collections.abc import Callable, Mapping, Sequence
from math import ceil

from wise_perch.core.class_night.laid import NEVER, Booking, Laid, Placed, Task, next_free, ticks_for
from wise_perch.core.class_night.question import ClassQuestion, Hold, Price, Slot


class FloorPlan:
    """A question made ready to be laid out many times."""

    def __init__(self, question: ClassQuestion) -> None:
        self.question = question
        self.per_min = ticks_for(question)
        people = question.trainees
        self.names: list[tuple[str, int]] = []
        units_of: dict[str, list[int]] = {}
        self.ample = {k for k, n in question.stations.items() if n >= len(people)}
        held = {h.station for h in question.holds if h.number is not None}
        self.ample -= held
        for kind, count in question.stations.items():
            if kind not in self.ample:
                units_of[kind] = list(range(len(self.names), len(self.names) + count))
                self.names += [(kind, number + 1) for number in range(count)]
        self.units_of = units_of
        self.leaves = [self.in_ticks(question.leaves_min(t)) for t in range(len(people))]
        holds = {(h.trainee, h.block): h for h in question.holds}
        self.tasks = [
            [self._task(t, b, holds.get((t, b))) for b in range(len(person.blocks))]
            for t, person in enumerate(people)
        ]
        self.base = self._with_past()

    def in_ticks(self, minutes: float) -> int:
        """Minutes as ticks, rounded up: nothing is cut short."""
        return ceil(round(minutes * self.per_min, 6))

    def _task(self, trainee: int, block: int, hold: Hold | None) -> Task:
        asked = self.question.trainees[trainee].blocks[block]
        kinds = [hold.station] if hold and hold.station in asked.stations else list(asked.stations)
        units = [u for kind in kinds for u in self.units_of.get(kind, ())]
        if hold and hold.number is not None:
            units = [u for u in units if self.names[u] == (hold.station, hold.number)] or units
        length = self.in_ticks(asked.minutes)
        return Task(
            length=length,
            rest=self.in_ticks(asked.rest_after_min),
            hands=min(self.in_ticks(asked.hands_min), length),
            shown=asked.shown,
            units=tuple(units),
            ample=tuple(kind for kind in kinds if kind in self.ample),
            hold=hold,
        )

    def _with_past(self) -> Laid:
        """What is booked before anything is laid: what has begun or is over."""
        question, now = self.question, self.in_ticks(self.question.now_min)
        laid = Laid(
            units=[[] for _ in self.names],
            coaches=[[] for _ in range(question.coaches)],
            ready=[max(self.in_ticks(p.from_min), now) for p in question.trainees],
            next=[0 for _ in question.trainees],
            waited=[0 for _ in question.trainees],
            gone=[False for _ in question.trainees],
        )
        unit_named = {name: n for n, name in enumerate(self.names)}
        last: dict[int, int] = {}
        for slot in sorted(question.past, key=lambda s: (s.trainee, s.start_min)):
            t, start, end = slot.trainee, self.in_ticks(slot.start_min), self.in_ticks(slot.end_min)
            unit = unit_named.get((slot.station, slot.number))
            if unit is not None and end > start:
                insort(laid.units[unit], (start, end))
            hands = self.in_ticks(slot.hands[1]) - self.in_ticks(slot.hands[0]) if slot.hands else 0
            if hands > 0:
                self._book_coach(laid, start, start + hands, self.tasks[t][slot.block].shown)
            wished = last.get(t, self.in_ticks(question.trainees[t].from_min))
            laid.waited[t] += max(0, start - wished)
            last[t] = end + self.tasks[t][slot.block].rest
            laid.next[t] = max(laid.next[t], slot.block + 1)
            laid.ready[t] = max(last[t], now)
            kind = slot.station
            laid.placed.append(Placed(t, slot.block, -1 if unit is None else unit, kind, start, end, hands))
        for t, person in enumerate(question.trainees):
            # who stands about at this moment has waited already
            since = last.get(t, self.in_ticks(person.from_min))
            if laid.next[t] < len(person.blocks):
                laid.waited[t] += max(0, laid.ready[t] - since)
        return laid

    def fresh(self) -> Laid:
        """A floor with nothing laid but what stays."""
        base = self.base
        laid = Laid(
            units=[list(u) for u in base.units],
            coaches=[list(c) for c in base.coaches],
            ready=list(base.ready),
            next=list(base.next),
            shows={k: list(v) for k, v in base.shows.items()},
            placed=list(base.placed),
            waited=list(base.waited),
            gone=[False] * len(base.gone),
        )
        for t, tasks in enumerate(self.tasks):
            for b in range(laid.next[t], len(tasks)):
                if tasks[b].hold:
                    self._keep_free(laid, t, b)
        return laid

    def _keep_free(self, laid: Laid, trainee: int, block: int) -> None:
        """Book station and coach for a block that was set by hand to a moment, where they are free then."""
        task = self.tasks[trainee][block]
        if task.hold is None or task.hold.start_min is None:
            return
        start, kept = self.in_ticks(task.hold.start_min), []
        wanted = [(laid.units[u], task.length) for u in task.units[:1] if not task.ample]
        if task.hands:
            free = [c for c in laid.coaches if next_free(c, start, task.hands) == start]
            wanted += [(c, task.hands) for c in free[:1]]
        for booked, length in wanted:
            if next_free(booked, start, length) == start:
                insort(booked, (start, start + length))
                kept.append((booked, (start, start + length)))
        laid.kept_free[trainee, block] = kept

    def _let_go(self, laid: Laid, trainee: int, block: int) -> None:
        for booked, booking in laid.kept_free.pop((trainee, block), ()):
            booked.remove(booking)

    def _book_coach(self, laid: Laid, start: int, end: int, shown: str) -> None:
        if any(s == start and length >= end - start for s, length in laid.shows.get(shown, ())):
            return
        for booked in laid.coaches:
            if next_free(booked, start, end - start) == start:
                insort(booked, (start, end))
                break
        if shown:
            laid.shows.setdefault(shown, []).append((start, end - start))

    def _coach_from(self, laid: Laid, since: int, task: Task) -> int:
        return min((next_free(booked, since, task.hands) for booked in laid.coaches), default=NEVER)

    def _at_unit(self, laid: Laid, unit: int, since: int, task: Task) -> int:
        """The first moment that a station and a coach are both free."""
        at = since
        while at < NEVER:
            at = next_free(laid.units[unit], at, task.length)
            if not task.hands or at in self._shows(laid, task):
                return at
            with_coach = self._coach_from(laid, at, task)
            if with_coach == at:
                return at
            at = self._sooner_show(laid, unit, at, with_coach, task)
        return NEVER

    def _sooner_show(self, laid: Laid, unit: int, since: int, before: int, task: Task) -> int:
        """A showing that can be joined before a coach is free again, else when that is."""
        for start in sorted(s for s in self._shows(laid, task) if since <= s <= before):
            if next_free(laid.units[unit], start, task.length) == start:
                return start
        return before

    def find(self, laid: Laid, trainee: int) -> tuple[int, int, str]:
        """Where and when somebody's next block can begin: its moment (NEVER: not at all), unit and kind."""
        task = self.tasks[trainee][laid.next[trainee]]
        since, best = laid.ready[trainee], (NEVER, -1, "")
        kept = laid.kept_free.get((trainee, laid.next[trainee]), [])
        if task.hold and task.hold.start_min is not None:
            since = max(since, self.in_ticks(task.hold.start_min))
            for booked, booking in kept:
                booked.remove(booking)
        only = laid.only.get((trainee, laid.next[trainee]), "")
        for kind in [k for k in task.ample if not only or k == only][:1]:
            at = since if not task.hands else self._at_nothing(laid, since, task)
            best = (at, -1, kind)
        for unit in task.units:
            if best[0] == since:
                break
            if only and self.names[unit][0] != only:
                continue
            at = self._at_unit(laid, unit, since, task)
            if at < best[0]:
                best = (at, unit, self.names[unit][0])
        for booked, booking in kept:
            insort(booked, booking)
        return best

    def _at_nothing(self, laid: Laid, since: int, task: Task) -> int:
        joined = [s for s in self._shows(laid, task) if s >= since]
        return min([self._coach_from(laid, since, task), *joined])

    def _shows(self, laid: Laid, task: Task) -> list[int]:
        """When somebody is shown the same, for as long as is wanted here."""
        if not task.shown:
            return []
        return [start for start, length in laid.shows.get(task.shown, ()) if length >= task.hands]

    def put(self, laid: Laid, trainee: int, at: int, unit: int, kind: str) -> None:
        """Lay somebody's next block there."""
        block = laid.next[trainee]
        task = self.tasks[trainee][block]
        self._let_go(laid, trainee, block)
        end = at + task.length
        if unit >= 0:
            insort(laid.units[unit], (at, end))
        if task.hands:
            self._book_coach(laid, at, at + task.hands, task.shown)
        laid.placed.append(Placed(trainee, block, unit, kind, at, end, task.hands))
        laid.waited[trainee] += at - laid.ready[trainee]
        laid.ready[trainee] = end + task.rest
        laid.next[trainee] = block + 1

    def step(self, laid: Laid, trainee: int) -> None:
        """Lay somebody's next block as soon as it can be; what cannot end in time ends the session there."""
        at, unit, kind = self.find(laid, trainee)
        task = self.tasks[trainee][laid.next[trainee]]
        if at + task.length > self.leaves[trainee]:
            self._send_home(laid, trainee)
        else:
            self.put(laid, trainee, at, unit, kind)

    def _send_home(self, laid: Laid, trainee: int) -> None:
        laid.gone[trainee] = True
        for block in range(laid.next[trainee], len(self.tasks[trainee])):
            self._let_go(laid, trainee, block)

    def lay_out(self, turns: Sequence[int], only: Mapping[tuple[int, int], str] | None = None) -> Laid:
        """Lay everything out: each turn lays the next block of the one it names, where `only` says at that
        kind.
        """
        laid = self.fresh()
        laid.only = only or {}
        for trainee in turns:
            if not laid.gone[trainee]:
                self.step(laid, trainee)
        return laid

    def price(self, laid: Laid) -> Price:
        """What it costs."""
        left = sum(len(tasks) - n for tasks, n in zip(self.tasks, laid.next, strict=True))
        return Price(
            left_out=left,
            waited_min=sum(laid.waited) / self.per_min,
            uneven=sum((w / self.per_min) ** 2 for w in laid.waited),
        )

    def cost(self, laid: Laid) -> tuple[int, int]:
        """The same in whole ticks, quick to compare."""
        left = sum(len(tasks) - n for tasks, n in zip(self.tasks, laid.next, strict=True))
        return 240 * self.per_min * left + sum(laid.waited), sum(w * w for w in laid.waited)

    def by_moment(self, key: Callable[[Laid, int], tuple[float, ...]]) -> tuple[Laid, list[int]]:
        """Go through the evening moment by moment: whenever something can begin, it does, the least `key`
        first. Gives the result and the turns it took.
        """
        laid = self.fresh()
        turns: list[int] = []
        people = range(len(self.tasks))
        while True:
            open_ones = [t for t in people if not laid.gone[t] and laid.next[t] < len(self.tasks[t])]
            if not open_ones:
                return laid, turns
            found = {t: self.find(laid, t) for t in open_ones}
            for t in open_ones:
                if found[t][0] + self.tasks[t][laid.next[t]].length > self.leaves[t]:
                    self._send_home(laid, t)
            able = [t for t in open_ones if not laid.gone[t]]
            if not able:
                continue
            now = min(found[t][0] for t in able)
            t = min((t for t in able if found[t][0] == now), key=lambda t: (*key(laid, t), t))
            self.put(laid, t, *found[t])
            turns.append(t)

    def slots(self, laid: Laid) -> tuple[Slot, ...]:
        """What was laid as slots by trainee and time; stations of ample kinds get their numbers here."""
        found = [self._slot(p, p.start, p.end) for p in laid.placed]
        busy: dict[str, list[list[Booking]]] = {
            kind: [[] for _ in range(self.question.stations[kind])] for kind in self.ample
        }
        kept: list[Slot] = []
        stays = {(s.trainee, s.block): s for s in self.question.past}
        for slot in sorted(found, key=lambda s: (s.start_min, s.trainee)):
            before = stays.get((slot.trainee, slot.block))
            number = slot.number
            if before is not None:
                kept.append(before)
                self._note(busy, before)
                continue
            if slot.station in busy:
                start, end = self.in_ticks(slot.start_min), self.in_ticks(slot.end_min)
                number = next(
                    n + 1
                    for n, booked in enumerate(busy[slot.station])
                    if next_free(booked, start, max(end - start, 1)) == start
                )
                insort(busy[slot.station][number - 1], (start, end))
            kept.append(
                Slot(
                    trainee=slot.trainee,
                    block=slot.block,
                    station=slot.station,
                    number=number,
                    start_min=slot.start_min,
                    end_min=slot.end_min,
                    hands=slot.hands,
                )
            )
        return tuple(sorted(kept, key=lambda s: (s.trainee, s.start_min, s.block)))

    def _note(self, busy: dict[str, list[list[Booking]]], slot: Slot) -> None:
        if slot.station in busy and 0 < slot.number <= len(busy[slot.station]):
            insort(
                busy[slot.station][slot.number - 1],
                (self.in_ticks(slot.start_min), self.in_ticks(slot.end_min)),
            )

    def _slot(self, p: Placed, start: int, end: int) -> Slot:
        kind, number = self.names[p.unit] if p.unit >= 0 else (p.kind, 0)
        hands = (start / self.per_min, (start + p.hands) / self.per_min) if p.hands else None
        return Slot(
            trainee=p.trainee,
            block=p.block,
            station=kind,
            number=number,
            start_min=start / self.per_min,
            end_min=end / self.per_min,
            hands=hands,
        )

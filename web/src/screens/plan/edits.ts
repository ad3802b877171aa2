/** What the coach sets by hand on a week; the server plans the rest around it. */
import type { DayPlan, PlanPage } from "../../api/client";
import type { WishSent } from "../../api/hooks";

/** One thing set by hand: the wish it leads to, and what it was in words. */
export interface Edit {
  wish: WishSent;
  words: string;
}

/** The wish a page stands for, as it is sent. */
export const wishOf = (page: PlanPage): WishSent => ({
  week: page.week,
  days: page.wish.days.map(({ day, place, minutes, time }) => ({ day, place, minutes, time })),
  kit: Object.fromEntries(Object.entries(page.wish.kit).map(([place, items]) => [place, [...items]])),
  pins: page.wish.pins.map(({ day, drill, sets }) => ({ day, drill, sets })),
  drops: page.wish.drops.map(({ drill, day }) => ({ drill, day })),
  against: page.kept,
});

const without = (wish: WishSent, day: string, drill: string): WishSent => ({
  ...wish,
  pins: wish.pins.filter((p) => p.day !== day || p.drill !== drill),
  drops: wish.drops.filter((d) => d.drill !== drill || (d.day !== day && d.day !== null)),
});

/** A wish with a drill put on a day. */
export function pinned(wish: WishSent, day: string, drill: string, sets: number | null = null): WishSent {
  const rest = without(wish, day, drill);
  return { ...rest, pins: [...rest.pins, { day, drill, sets }] };
}

/** A wish with that pin taken off. */
export function unpinned(wish: WishSent, day: string, drill: string): WishSent {
  return { ...wish, pins: wish.pins.filter((p) => p.day !== day || p.drill !== drill) };
}

/** Take a drill off one day, or off the whole week (null). */
export function dropped(wish: WishSent, day: string | null, drill: string): WishSent {
  const pins = wish.pins.filter((p) => p.drill !== drill || (day !== null && p.day !== day));
  return { ...wish, pins, drops: [...wish.drops, { drill, day }] };
}

/** A wish with one drill of a day in place of another. */
export const swapped = (wish: WishSent, day: string, drill: string, other: string): WishSent =>
  pinned(dropped(wish, day, drill), day, other);

/** A wish with a drill moved from one day to another. */
export const movedTo = (wish: WishSent, from: string, to: string, drill: string, sets: number): WishSent =>
  pinned(dropped(wish, from, drill), to, drill, sets);

/** A day with everything pinned on it moves to another date. */
export function dayMoved(wish: WishSent, from: string, to: string): WishSent {
  const put = <T extends { day: string | null }>(x: T): T => (x.day === from ? { ...x, day: to } : x);
  return { ...wish, days: wish.days.map(put), pins: wish.pins.map(put), drops: wish.drops.map(put) };
}

/** Everything of a day stays as it is while the rest is planned again. */
export const dayPinned = (wish: WishSent, day: DayPlan): WishSent =>
  day.blocks
    .filter((b) => b.kind === "work" && b.dose)
    .reduce((w, b) => pinned(w, day.day, b.drill, b.dose?.sets ?? null), wish);

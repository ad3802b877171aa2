import type { Mark } from "../../api/client";
import type { LiveRun } from "../../live/run";
import { seconds, sideOf } from "../line/holdWords";
import type { FilmInHand } from "./useFilm";
import type { Phase, TryInHand } from "./useTry";

/** Another trainee whose turn it is while this one rests. */
export interface Elsewhere {
  words: string;
  go: () => void;
}

/** One thing that can be done now. A clicker goes through them with one key and takes one with the other. */
export interface Choice {
  id: string;
  words: string;
  keycap: string;
  act: () => void;
  kind?: "act" | "plain" | "quiet";
  off?: boolean;
  /** Says how a try ended. */
  mark?: boolean;
}

const SHOWN_KEYS: Record<string, string> = {
  ArrowLeft: "←",
  ArrowRight: "→",
  ArrowDown: "↓",
  ArrowUp: "↑",
  Enter: "Enter",
  " ": "Space",
};
/** A key as its cap says it. */
export const shown = (key: string) => SHOWN_KEYS[key] ?? key.toUpperCase();

interface Asked {
  hand: TryInHand;
  run: LiveRun;
  finish: () => void;
  goOn: () => void;
  elsewhere: Elsewhere | undefined;
  film?: FilmInHand | undefined;
}

const MAIN: Record<Exclude<Phase, "stopped">, string> = {
  ready: "Start",
  rest: "Start early",
  going: "Stop",
  over: "See the decision",
};

/** Everything that can be done now, the likeliest first. */
export function choicesOf({ film, ...asked }: Asked): Choice[] {
  const choices = usualChoices(asked);
  if (!film?.first || asked.hand.phase !== "stopped") return choices;
  // what the film proposes is kept, put right or dropped by one key
  const own = choices
    .filter((c) => c.mark)
    .map((c) => ({
      ...c,
      kind: "plain" as const,
      keycap: c.keycap === "Enter" ? "k" : c.keycap,
      act: () => {
        c.act();
        film.next();
      },
    }));
  const seen = film.first;
  return [
    {
      id: "as-seen",
      words: `As seen: ${seconds(seen.seconds)}, ${sideOf(seen.end)}`,
      keycap: "Enter",
      act: film.keep,
      kind: "act",
    },
    ...own,
    { id: "drop", words: "Drop it", keycap: "D", act: film.drop },
  ];
}

function usualChoices({ hand, run, finish, goOn, elsewhere }: Omit<Asked, "film">): Choice[] {
  const { phase, mode, place, hold } = hand;
  if (phase === "over")
    return [{ id: "finish", words: MAIN.over, keycap: "Enter", act: finish, kind: "act" }];
  const typed = mode.takes === "number" || run.paper;
  const found: Choice[] = [];
  if (phase === "rest" && elsewhere)
    found.push({ id: "elsewhere", words: elsewhere.words, keycap: "N", act: elsewhere.go, kind: "act" });
  const startable = !typed && (phase === "ready" || phase === "rest");
  if (startable)
    found.push({
      id: "start",
      words: MAIN[phase as "ready" | "rest"],
      keycap: " ",
      act: hand.start,
      kind: found.length ? "plain" : "act",
    });
  if (phase === "going" && mode.takes !== "mark" && mode.takes !== "window")
    found.push({ id: "stop", words: MAIN.going, keycap: " ", act: hand.stop, kind: "act" });
  if (phase === "going" && mode.takes === "window")
    found.push({ id: "count", words: "Touch", keycap: "T", act: () => hand.count(1), kind: "act" });
  if (phase === "going" && mode.takes === "count")
    found.push({ id: "count", words: "One more", keycap: "T", act: () => hand.count(1) });
  if (phase === "stopped" && (mode.takes === "window" || mode.takes === "count") && !typed)
    found.push(
      { id: "one-more", words: "One more", keycap: "T", act: () => hand.count(1) },
      { id: "one-less", words: "One less", keycap: "R", act: () => hand.count(-1), off: !hold?.count },
    );
  const marks = mode.marks.map((mark) => asChoice(mark, hand, typed));
  const keepFirst = phase === "stopped" || (phase === "going" && mode.takes === "mark");
  const main = marks.find((m) => m.keycap === "Enter");
  const ordered =
    keepFirst && main ? [{ ...main, kind: "act" as const }, ...marks.filter((m) => m !== main)] : marks;
  const all = keepFirst ? [...ordered, ...found] : [...found, ...ordered];
  if (mode.change && place.step?.change)
    all.push({
      id: "change",
      words: mode.change.title,
      keycap: shown(mode.change.key),
      act: goOn,
      off: phase === "going",
    });
  return all;
}

function asChoice(mark: Mark, hand: TryInHand, typed: boolean): Choice {
  const { phase, mode } = hand;
  // a window that is not over has no figure yet; a figure that is typed is there once it is typed
  const figured =
    mode.takes === "window" || typed ? phase === "stopped" : phase === "stopped" || phase === "going";
  return {
    id: `${mark.outcome} ${mark.fell ?? ""}`,
    words: mark.title,
    keycap: mark.key,
    act: () => hand.keep(mark),
    mark: true,
    off: mark.figure && !figured,
  };
}

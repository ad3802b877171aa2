import { useQueryClient } from "@tanstack/react-query";
import { ask, type Coach, client } from "../api/client";
import { useMe } from "../api/me";

/** What each screen is for, in one line. */
const PURPOSES: readonly (readonly [RegExp, string, string])[] = [
  [/^\/$/, "today", "Today lists every trainee, the most pressing first: what there is to decide."],
  [
    /^\/trainees\/[^/]+$/,
    "trainee",
    "One trainee: the goal, what it waits for, and every drill on the wall bars.",
  ],
  [
    /^\/trainees\/[^/]+\/bench/,
    "bench",
    "The Bench runs a test with you, one key a try, and says what it means.",
  ],
  [/^\/test-days/, "test-days", "A test day runs several trainees on one Bench, each with their own clock."],
  [
    /^\/trainees\/[^/]+\/plan/,
    "plan",
    "The plan is a week of sessions with doses, and the reason beside each.",
  ],
  [/^\/weeks/, "weeks", "Everybody's week in one list, to plan whoever has none yet."],
  [/^\/floor/, "floor", "The Floor runs today's sessions: clocks, rests, one key a set."],
  [
    /^\/trainees\/[^/]+\/line/,
    "line",
    "Line judges a handstand from a picture or a film; pictures never leave this device.",
  ],
  [/^\/trainees\/[^/]+\/progress/, "progress", "Progress says whether it works, and when a gate may fall."],
  [/^\/group$/, "group", "The group shows everybody by what wants a word first."],
  [/^\/trainees\/[^/]+\/levers/, "levers", "Levers shows what a setting does to this body, to scale."],
  [/^\/trainees\/[^/]+\/intake/, "intake", "The intake asks what matters before anybody goes upside down."],
  [
    /^\/trainees\/[^/]+\/measures/,
    "measures",
    "Measures are the body's own lengths; what is empty is estimated.",
  ],
  [
    /^\/class/,
    "class",
    "Class lays an evening with many out: who is where when, and whom the coach is with.",
  ],
  [/^\/kit/, "kit", "The kit makes heights sayable: each as a stack of what lies there."],
  [/^\/syllabus/, "syllabus", "The syllabus holds every drill, gate and test; change it to teach your way."],
  [/^\/files/, "files", "Files bring results in and take the whole hall along."],
  [/^\/groups/, "groups", "Groups say who comes together, and when."],
  [/^\/hall$/, "hall", "The hall has its people, who may do what, and how a phone comes in."],
];

/** What this screen is for, in one line, until it was read once. */
export function Purpose({ pathname }: { pathname: string }) {
  const me = useMe().data;
  const queries = useQueryClient();
  const found = PURPOSES.find(([path]) => path.test(pathname));
  if (!me || !found || me.told.includes("*") || me.told.includes(found[1])) return null;
  const read = () => {
    queries.setQueryData<Coach>(["me"], { ...me, told: [...me.told, found[1]] });
    void ask(client.POST("/api/me/told", { body: { screen: found[1] } })).catch(() => undefined);
  };
  return (
    <p className="mb-4 flex flex-wrap items-center gap-x-4 border-l-4 border-wood bg-sheet px-4 py-1 print:hidden">
      {found[2]}
      <button type="button" className="min-h-11 font-bold underline" onClick={read}>
        Understood
      </button>
    </p>
  );
}

import { lazy, Suspense, useEffect, useRef } from "react";
import { Navigate, Route, Routes, useLocation, useMatch } from "react-router";
import { type Coach, Failure, inHall, setHall } from "./api/client";
import { doorQuery, queryClient } from "./api/hooks";
import { useMe } from "./api/me";
import { COACH, rememberedCoach } from "./live/atHand";
import { openOutbox } from "./live/outbox";
import { chooseSounds } from "./live/sounds";
import { useTheDay } from "./live/theDay";
import { useChanges } from "./live/useChanges";
import { whenItStands } from "./live/whenItStands";
import { Beam } from "./parts/Beam";
import { Boundary } from "./parts/Boundary";
import { Message, Problem, Waiting } from "./parts/Message";
import { Purpose } from "./parts/Purpose";
import { readAs } from "./parts/reading";
import { Door } from "./screens/door/Door";
import { Today } from "./screens/today/Today";

// Today stands first; what runs live is fetched as one right after it, so that it goes on without a server; the rest when it is first opened
const live = () => import("./screens/live");
const BenchIndex = lazy(() => live().then((m) => ({ default: m.BenchIndex })));
const BenchRun = lazy(() => live().then((m) => ({ default: m.BenchRun })));
const BenchSetup = lazy(() => live().then((m) => ({ default: m.BenchSetup })));
const ClassScreen = lazy(() => live().then((m) => ({ default: m.ClassScreen })));
const Floor = lazy(() => live().then((m) => ({ default: m.Floor })));
const Plan = lazy(() => live().then((m) => ({ default: m.Plan })));
const PlanDay = lazy(() => live().then((m) => ({ default: m.PlanDay })));
const TestDay = lazy(() => live().then((m) => ({ default: m.TestDay })));
const TraineeScreen = lazy(() => live().then((m) => ({ default: m.TraineeScreen })));
const AccountScreen = lazy(() =>
  import("./screens/account/AccountScreen").then((m) => ({ default: m.AccountScreen })),
);
const Compare = lazy(() => import("./screens/bench/Compare").then((m) => ({ default: m.Compare })));
const ClassList = lazy(() => import("./screens/class/ClassList").then((m) => ({ default: m.ClassList })));
const ClassPrint = lazy(() => import("./screens/class/ClassPrint").then((m) => ({ default: m.ClassPrint })));
const HallDisplay = lazy(() =>
  import("./screens/class/HallDisplay").then((m) => ({ default: m.HallDisplay })),
);
const Files = lazy(() => import("./screens/files/Files").then((m) => ({ default: m.Files })));
const ChooseHall = lazy(() => import("./screens/hall/Halls").then((m) => ({ default: m.ChooseHall })));
const GroupsScreen = lazy(() =>
  import("./screens/groups/GroupsScreen").then((m) => ({ default: m.GroupsScreen })),
);
const HallScreen = lazy(() => import("./screens/hall/HallScreen").then((m) => ({ default: m.HallScreen })));
const HistoryScreen = lazy(() =>
  import("./screens/hall/HistoryScreen").then((m) => ({ default: m.HistoryScreen })),
);
const Join = lazy(() => import("./screens/door/Join").then((m) => ({ default: m.Join })));
const IntakeScreen = lazy(() =>
  import("./screens/intake/IntakeScreen").then((m) => ({ default: m.IntakeScreen })),
);
const Kit = lazy(() => import("./screens/kit/Kit").then((m) => ({ default: m.Kit })));
const LineScreen = lazy(() => import("./screens/line/LineScreen").then((m) => ({ default: m.LineScreen })));
const Levers = lazy(() => import("./screens/levers/Levers").then((m) => ({ default: m.Levers })));
const NextWeeks = lazy(() => import("./screens/trainee/NextWeeks").then((m) => ({ default: m.NextWeeks })));
const Measures = lazy(() => import("./screens/measures/Measures").then((m) => ({ default: m.Measures })));
const PrintSheet = lazy(() => import("./screens/plan/PrintSheet").then((m) => ({ default: m.PrintSheet })));
const Weeks = lazy(() => import("./screens/plan/Weeks").then((m) => ({ default: m.Weeks })));
const SharedScreen = lazy(() =>
  import("./screens/shared/SharedScreen").then((m) => ({ default: m.SharedScreen })),
);
const ProgressScreen = lazy(() =>
  import("./screens/progress/ProgressScreen").then((m) => ({ default: m.ProgressScreen })),
);
const SideBySide = lazy(() =>
  import("./screens/progress/SideBySide").then((m) => ({ default: m.SideBySide })),
);
const GroupScreen = lazy(() =>
  import("./screens/progress/GroupScreen").then((m) => ({ default: m.GroupScreen })),
);
const ReportScreen = lazy(() =>
  import("./screens/progress/ReportScreen").then((m) => ({ default: m.ReportScreen })),
);
const ReportsScreen = lazy(() =>
  import("./screens/progress/ReportsScreen").then((m) => ({ default: m.ReportsScreen })),
);
const BreakdownScreen = lazy(() =>
  import("./screens/syllabus/Breakdown").then((m) => ({ default: m.BreakdownScreen })),
);
const SyllabusScreen = lazy(() =>
  import("./screens/syllabus/SyllabusScreen").then((m) => ({ default: m.SyllabusScreen })),
);

/** The whole interface: routes, the frame around them, and what happens when the server cannot be reached. */
export function App() {
  // a trainee's own page needs no sign-in, and asks for none; a link that works once asks for its own
  const shared = useMatch("/shared/:token");
  const joins = useMatch("/join/:token");
  const display = useMatch("/display/:token");
  return shared || joins || display ? (
    <Suspense fallback={<Waiting />}>
      <Routes>
        <Route path="/shared/:token" element={<SharedScreen />} />
        <Route path="/join/:token" element={<Join />} />
        <Route path="/display/:token" element={<HallDisplay />} />
      </Routes>
    </Suspense>
  ) : (
    <Coached />
  );
}

function Coached() {
  const me = useMe();
  // where nobody is known the sign-in is what comes: what it needs is asked for beside the question who this is
  useEffect(() => {
    if (localStorage.getItem(COACH) === null) void queryClient.prefetchQuery(doorQuery);
  }, []);
  const signedOut = me.error instanceof Failure && me.error.status === 401;
  // whoever was known a moment ago still is while the question is asked again
  const known = useRef<Coach>(undefined);
  const coach = signedOut
    ? undefined
    : (me.data ?? known.current ?? (me.error ? rememberedCoach() : undefined));
  known.current = coach;
  useEffect(() => {
    if (me.data) localStorage.setItem(COACH, JSON.stringify(me.data));
    if (!coach?.hall) return;
    // nothing of one hall shows in another: the page begins anew
    if (inHall() && inHall() !== coach.hall.id) return window.location.assign("/");
    setHall(coach.hall.id);
    openOutbox(coach.id, coach.hall.id);
  }, [me.data, coach]);
  useChanges(coach?.hall?.id);
  useEffect(() => {
    if (coach) chooseSounds(coach);
  }, [coach]);
  const { units = "cm", dates = "day-month", decimal = "point" } = coach ?? {};
  useEffect(() => readAs({ units, dates, decimal }), [units, dates, decimal]);
  useTheDay(coach?.id ?? "", coach?.hall?.id ?? "", coach?.hall?.time_zone ?? "UTC");
  // a page that cannot be fetched says so when it is opened
  useEffect(() => (coach ? whenItStands(() => void live().catch(() => undefined)) : undefined), [coach]);
  const { pathname } = useLocation();
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new screen starts at its top
  useEffect(() => {
    // newer browsers answer with a promise, which an effect must not return
    void window.scrollTo(0, 0);
  }, [pathname]);

  if (signedOut) return <Door />;
  if (!coach) return me.isPending ? <Waiting /> : <Problem error={me.error} />;
  if (!coach.hall)
    return (
      <Suspense fallback={<Waiting />}>
        <ChooseHall me={coach} />
      </Suspense>
    );
  return (
    <>
      <Beam coach={coach} />
      <main id="main" className="mx-auto max-w-[82rem] px-7 pb-6 pt-5 max-sm:px-4">
        <Purpose pathname={pathname} />
        <Boundary place={pathname}>
          <Suspense fallback={<Waiting />}>
            <Routes>
              <Route path="/" element={<Today />} />
              <Route path="/trainees/:id" element={<TraineeScreen />} />
              <Route path="/trainees/:id/bench" element={<BenchIndex />} />
              <Route path="/trainees/:id/bench/test/:test" element={<BenchSetup />} />
              <Route path="/trainees/:id/bench/:run" element={<BenchRun />} />
              <Route path="/trainees/:id/bench/:run/compare/:other" element={<Compare />} />
              <Route path="/test-days/new" element={<PlanDay />} />
              <Route path="/test-days/:id" element={<TestDay />} />
              <Route path="/trainees/:id/plan" element={<Plan />} />
              <Route path="/trainees/:id/print/:plan" element={<PrintSheet />} />
              <Route path="/weeks" element={<Weeks />} />
              <Route path="/floor" element={<Floor />} />
              <Route path="/class" element={<ClassList />} />
              <Route path="/class/:id" element={<ClassScreen />} />
              <Route path="/class/:id/print" element={<ClassPrint />} />
              <Route path="/kit" element={<Kit />} />
              <Route path="/trainees/:id/intake" element={<IntakeScreen />} />
              <Route path="/trainees/:id/levers" element={<Levers />} />
              <Route path="/trainees/:id/line" element={<LineScreen />} />
              <Route path="/trainees/:id/measures" element={<Measures />} />
              <Route path="/trainees/:id/next" element={<NextWeeks />} />
              <Route path="/trainees/:id/progress" element={<ProgressScreen />} />
              <Route path="/trainees/:id/progress/compare" element={<SideBySide />} />
              <Route path="/trainees/:id/report" element={<ReportScreen />} />
              <Route path="/group" element={<GroupScreen />} />
              <Route path="/reports" element={<ReportsScreen />} />
              <Route path="/syllabus" element={<SyllabusScreen />} />
              <Route path="/syllabus/breakdown" element={<BreakdownScreen />} />
              <Route path="/files" element={<Files />} />
              <Route path="/hall" element={<HallScreen />} />
              <Route path="/groups" element={<GroupsScreen />} />
              <Route path="/hall/history" element={<HistoryScreen />} />
              <Route path="/account" element={<AccountScreen />} />
              <Route path="/today" element={<Navigate to="/" replace />} />
              <Route path="*" element={<Message>There is no such page. Today is at the top.</Message>} />
            </Routes>
          </Suspense>
        </Boundary>
      </main>
    </>
  );
}

import { DropdownMenu } from "radix-ui";
import { useEffect, useState, useSyncExternalStore } from "react";
import { NavLink, useMatch, useNavigate } from "react-router";
import { type Coach, clockAhead, onClock } from "../api/client";
import { useTrainee } from "../api/hooks";
import { onShownAsOf, shownAsOf } from "../live/atHand";
import { isSignedOut, refusedLetters, waitingLetters } from "../live/outbox";
import { signOut } from "../live/signOut";
import { useOutboxVersion } from "../live/useFollowed";
import { Finder } from "./Finder";
import { For } from "./For";
import { Letters } from "./Letters";
import { readTheme, setTheme } from "./theme";
import { moment } from "./words";

const LAST = "perch.trainee";

/** The beam across the top: who it is about, where one is, and how much still waits to be sent. */
export function Beam({ coach }: { coach: Coach }) {
  const here = useMatch("/trainees/:id/*")?.params.id;
  useEffect(() => {
    if (here) sessionStorage.setItem(LAST, here);
  }, [here]);
  const trainee = here ?? sessionStorage.getItem(LAST);
  return (
    <>
      <header className="sticky top-0 z-10 border-b-[6px] border-wood bg-paper shadow-[0_2px_0_var(--darkwood)] print:hidden">
        <a
          href="#main"
          className="sr-only focus:not-sr-only focus:absolute focus:left-2 focus:top-2 focus:z-20 focus:bg-paper focus:p-2"
        >
          Skip to the page
        </a>
        <div className="mx-auto flex max-w-[82rem] flex-wrap items-center gap-x-6 px-7 max-sm:px-4">
          <NavLink to="/" className="flex items-center gap-2 py-2 font-head text-xl font-bold">
            <Mark />
            <span className="max-sm:sr-only">Wise Perch</span>
          </NavLink>
          {here && <Who id={here} />}
          <nav
            aria-label="Screens"
            className="ml-auto flex gap-5 max-sm:order-last max-sm:ml-0 max-sm:w-full max-sm:flex-wrap max-sm:gap-x-4 max-sm:gap-y-0 max-sm:text-[0.9375rem]"
          >
            <Tab to="/" words="Today" end />
            {trainee && <Tab to={`/trainees/${trainee}`} words="Trainee" end />}
            {trainee && <Tab to={`/trainees/${trainee}/bench`} words="Bench" />}
            <Tab to={trainee ? `/trainees/${trainee}/plan` : "/weeks"} words="Plan" />
            <Tab to="/floor" words="Floor" />
            <Tab to="/class" words="Class" />
            {trainee && <Tab to={`/trainees/${trainee}/line`} words="Line" />}
            <Tab to={here ? `/trainees/${here}/progress` : "/group"} words="Progress" />
            {trainee && <Tab to={`/trainees/${trainee}/levers`} words="Levers" />}
            <Tab to="/kit" words="Kit" />
            <Tab to="/syllabus" words="Syllabus" />
            <For least="coach">
              <Tab to="/files" words="Files" />
            </For>
          </nav>
          <Finder />
          <Account coach={coach} />
        </div>
        <Unsent />
      </header>
      <ClockOff />
      <AsOf />
    </>
  );
}

function Mark() {
  return (
    <svg viewBox="0 0 28 28" width="30" height="30" aria-hidden="true">
      <path d="M8 21V11a6 6 0 0 1 12 0v10z" fill="var(--ink)" />
      <circle cx="11.5" cy="11.5" r="1.7" fill="var(--paper)" />
      <circle cx="16.5" cy="11.5" r="1.7" fill="var(--paper)" />
      <rect x="1" y="21" width="26" height="5" rx="2.5" fill="var(--wood)" />
    </svg>
  );
}

function Who({ id }: { id: string }) {
  const name = useTrainee(id).data?.trainee.name;
  if (!name) return null;
  return (
    <NavLink
      to={`/trainees/${id}`}
      className="max-w-64 truncate rounded-l-full rounded-r bg-lightwood py-1.5 pl-4 pr-3 font-head font-bold max-sm:max-w-40"
    >
      {name}
    </NavLink>
  );
}

function Tab({ to, words, end = false }: { to: string; words: string; end?: boolean }) {
  return (
    <NavLink
      to={to}
      end={end}
      className={({ isActive }) =>
        `relative py-4 max-sm:py-1.5 ${isActive ? "font-bold after:absolute after:inset-x-0 after:-bottom-2 after:h-2.5 max-sm:after:bottom-0 max-sm:after:h-1 after:rounded-sm after:bg-blue" : "text-soft hover:text-ink"}`
      }
    >
      {words}
    </NavLink>
  );
}

function Account({ coach }: { coach: Coach }) {
  const go = useNavigate();
  const [theme, pickTheme] = useState(readTheme);
  const item = "cursor-pointer px-4 py-2.5 data-highlighted:bg-tint outline-none";
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="min-h-11 text-soft hover:text-ink">
        {coach.name.split(" ")[0]}
        <span className="sr-only">: account and look</span>
        <span aria-hidden="true"> ▾</span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-30 min-w-56 rounded-md border border-ink bg-paper py-1"
        >
          <DropdownMenu.Item
            className={item}
            onSelect={() => {
              const other = theme === "day" ? "hall" : "day";
              setTheme(other);
              pickTheme(other);
            }}
          >
            {theme === "day" ? "Dark hall" : "Daylight"}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => go("/hall")}>
            {coach.hall?.name ?? "The hall"}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => go("/groups")}>
            Groups
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => go("/account")}>
            Account
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => void signOut(false)}>
            Sign out
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => void signOut(true)}>
            Sign out on every device
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

const OFF_S = 600;
/** A difference of time as people say it. */
const differenceInWords = (s: number) => {
  const minutes = Math.round(Math.abs(s) / 60);
  if (minutes < 90) return `${minutes} minutes`;
  return minutes < 48 * 60 ? `${Math.round(minutes / 60)} hours` : `${Math.round(minutes / 1440)} days`;
};

/** A device whose clock is off tells everything at a wrong time: said as long as it is so. */
function ClockOff() {
  const ahead = useSyncExternalStore(onClock, clockAhead);
  if (Math.abs(ahead) < OFF_S) return null;
  return (
    <p
      role="status"
      className="border-b border-rule bg-sheet px-7 py-1.5 text-center text-sm print:hidden max-sm:px-4"
    >
      This device's clock is {differenceInWords(ahead)} {ahead > 0 ? "fast" : "slow"}. What you enter is kept
      with its time: set the clock right.
    </p>
  );
}

/** Where no server answers: of when it is what is shown. */
function AsOf() {
  const at = useSyncExternalStore(onShownAsOf, shownAsOf);
  if (!at) return null;
  return (
    <p
      role="status"
      className="border-b border-rule bg-sheet px-7 py-1.5 text-center text-sm print:hidden max-sm:px-4"
    >
      The server cannot be reached. What you see is of {moment(new Date(at).toISOString())}. What you enter is
      kept in this browser and sent later.
    </p>
  );
}

const A_MOMENT_MS = 1200;

/**
 * A small mark while results wait; silence when all is kept. It lies over the page's lower edge and comes only after a moment:
 * a bar that pushed the page down at every result would move the buttons under the coach's thumb.
 */
function Unsent() {
  useOutboxVersion();
  const [looking, look] = useState(false);
  const [late, setLate] = useState(false);
  const waiting = waitingLetters().length;
  const refused = refusedLetters().length;
  const some = waiting > 0;
  useEffect(() => {
    if (!some) return setLate(false);
    const timer = setTimeout(() => setLate(true), A_MOMENT_MS);
    return () => clearTimeout(timer);
  }, [some]);
  if (!refused && !(some && late)) return null;
  const words = [
    waiting
      ? `${waiting} ${waiting === 1 ? "result waits" : "results wait"} in this browser${isSignedOut() ? ": sign in again to send them" : " and will be sent"}`
      : "",
    refused ? `${refused} not accepted` : "",
  ].filter(Boolean);
  return (
    <div
      role="status"
      className="fixed inset-x-0 bottom-0 border-t border-blue bg-tint px-7 py-1.5 text-center text-sm max-sm:px-4"
    >
      {words.join(" · ")}{" "}
      <button type="button" className="font-bold underline" onClick={() => look(true)}>
        Look
      </button>
      <Letters open={looking} onClose={() => look(false)} />
    </div>
  );
}

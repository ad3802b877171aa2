import { DropdownMenu } from "radix-ui";
import type { Block, DayPlan, PlanPage } from "../../api/client";
import { useDrawings } from "../../api/drawings";
import type { WishSent } from "../../api/hooks";
import { DrillPicture } from "../../drawings/DrillPicture";
import { Button, buttonLook } from "../../parts/Button";
import { ORIGIN, weekday } from "../../parts/words";
import { dropped, movedTo, pinned, swapped, unpinned } from "./edits";

interface Props {
  page: PlanPage;
  day: DayPlan;
  block: Block;
  wish: WishSent;
  past: boolean;
  onEdit: (wish: WishSent, words: string) => void;
}

/** One block: what to do, why it is here and why so much, and what the coach may change about it. */
export function BlockPanel({ page, day, block, wish, past, onEdit }: Props) {
  const { dose } = block;
  const dial = dose?.dial;
  const stack = dial?.steps[dial.at]?.stack;
  const drawn = useDrawings(page.trainee.id, block.drill ? [block.drill] : []).data?.[0];
  return (
    <section aria-label="The block" className="border-l-4 border-blue pl-4">
      <p className="text-sm text-soft">{weekday(day.day)}</p>
      <h2 className="text-2xl leading-tight">{block.title}</h2>
      {dose ? (
        <p className="font-head text-[2.5rem] font-bold leading-none">{dose.amount}</p>
      ) : (
        <p className="font-head text-[2rem] font-bold leading-none">{Math.ceil(block.length_s / 60)} min</p>
      )}
      <p className="mt-1 text-soft">
        {[
          dose && dose.rest_s > 0 && !dose.every_minute ? `rest ${dose.rest_s} s` : "",
          dose?.place,
          dial?.in_body,
          stack,
          dose?.first_words ? `first set ${dose.open_set ? "open, " : ""}${dose.first_words}` : "",
        ]
          .filter(Boolean)
          .join(" · ")}
      </p>
      {drawn && <DrillPicture key={block.key} drawn={drawn} size="max-h-44" />}
      <Why block={block} />
      {dial?.limit && (
        <p className="mt-2 text-sm">
          <b>Limit by now</b> about {tenth(dial.limit.setting)} {dial.unit} (80 %:{" "}
          {tenth(dial.limit.easy_end)} to {tenth(dial.limit.hard_end)}), estimated from {dial.limit.n} sets.
        </p>
      )}
      {dose?.share != null && dose.load_s > 0 && (
        <p className="mt-2 text-sm text-soft">
          {Math.round(dose.share * 100)} % of body weight on the hands (model): {Math.round(dose.load_s)} s of
          body weight a set.
        </p>
      )}
      {block.cautions.length > 0 && (
        <p className="mt-3 border-l-4 border-brick bg-sheet px-3 py-2 text-sm">{block.cautions.join(" ")}</p>
      )}
      {block.kind === "work" && dose && !past && (
        <Edits page={page} day={day} block={block} wish={wish} onEdit={onEdit} sets={dose.sets} />
      )}
      {block.kind === "test" && !past && (
        <div className="mt-4 flex flex-wrap gap-2">
          <Button onClick={() => onEdit(dropped(wish, null, block.test), `${block.title} dropped`)}>
            Drop
          </Button>
        </div>
      )}
    </section>
  );
}

const tenth = (value: number) => Math.round(value * 10) / 10;

function Why({ block }: { block: Block }) {
  return (
    <ul className="mt-3 grid gap-1.5">
      {block.because.map((reason) => (
        <li key={reason.text} className="text-[0.9375rem] leading-snug">
          {reason.text}
          {reason.origin && <span className="text-sm text-soft"> ({ORIGIN[reason.origin]})</span>}
        </li>
      ))}
    </ul>
  );
}

interface EditsProps {
  page: PlanPage;
  day: DayPlan;
  block: Block;
  wish: WishSent;
  sets: number;
  onEdit: (wish: WishSent, words: string) => void;
}

function Edits({ page, day, block, wish, sets, onEdit }: EditsProps) {
  const others = wish.days.filter((d) => d.day !== day.day && d.day >= page.on);
  const lower = block.title.toLowerCase();
  return (
    <div className="mt-4 flex flex-wrap gap-2">
      <Menu
        words="Swap"
        empty="Nothing else of its kind is open."
        options={block.siblings.map((drill) => [drill, page.titles[drill] ?? drill])}
        onPick={(other) =>
          onEdit(
            swapped(wish, day.day, block.drill, other),
            `${lower} swapped for ${(page.titles[other] ?? other).toLowerCase()}`,
          )
        }
      />
      {block.pinned ? (
        <Button onClick={() => onEdit(unpinned(wish, day.day, block.drill), `${lower} unpinned`)}>
          Unpin
        </Button>
      ) : (
        <Button onClick={() => onEdit(pinned(wish, day.day, block.drill), `${lower} pinned`)}>Pin</Button>
      )}
      <Button onClick={() => onEdit(dropped(wish, day.day, block.drill), `${lower} dropped`)}>Drop</Button>
      <Button
        aria-label="One set more"
        onClick={() => onEdit(pinned(wish, day.day, block.drill, sets + 1), `${lower} lengthened`)}
      >
        + set
      </Button>
      <Button
        aria-label="One set fewer"
        disabled={sets < 2}
        onClick={() => onEdit(pinned(wish, day.day, block.drill, sets - 1), `${lower} shortened`)}
      >
        − set
      </Button>
      <Menu
        words="Move"
        empty="There is no other day."
        options={others.map((d) => [d.day, weekday(d.day)])}
        onPick={(to) =>
          onEdit(movedTo(wish, day.day, to, block.drill, sets), `${lower} moved to ${weekday(to)}`)
        }
      />
    </div>
  );
}

interface MenuProps {
  words: string;
  empty: string;
  options: [string, string][];
  onPick: (key: string) => void;
}

function Menu({ words, empty, options, onPick }: MenuProps) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className={buttonLook("plain")}>{words}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={4}
          className="z-30 max-h-80 min-w-56 overflow-y-auto rounded-md border border-ink bg-paper py-1"
        >
          {options.length === 0 && <p className="px-4 py-2 text-soft">{empty}</p>}
          {options.map(([key, said]) => (
            <DropdownMenu.Item
              key={key}
              className="cursor-pointer px-4 py-2.5 outline-none data-highlighted:bg-tint"
              onSelect={() => onPick(key)}
            >
              {said}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type KeptKit } from "../../api/client";
import { useKit } from "../../api/hooks";
import { useMay } from "../../api/me";
import { Button } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { For } from "../../parts/For";
import { Problem, Waiting } from "../../parts/Message";
import { capital } from "../../parts/words";
import { UsualKit } from "./UsualKit";

const KINDS = [
  ["pad", "pad", "soft, goes under the head"],
  ["plate", "plate", "known by its mass, used by its thickness"],
  ["block", "block", "hard, stands under hands or feet"],
  ["box", "box", "a surface to stand on"],
] as const;
type Kind = (typeof KINDS)[number][0];
const PLURAL: Record<Kind, string> = { pad: "pads", plate: "plates", block: "blocks", box: "boxes" };

/** What there is to stack: each sort with its thickness and how many, and what heights that makes. */
export function Kit() {
  const kit = useKit();
  const queries = useQueryClient();
  const [gone, setGone] = useState<KeptKit | null>(null);
  const [wrong, setWrong] = useState<unknown>(null);
  if (kit.isPending) return <Waiting />;
  if (!kit.data) return <Problem error={kit.error} />;
  const most = Math.max(1, ...kit.data.map((item) => item.thickness_cm));
  const again = () => {
    setWrong(null);
    for (const key of ["kit", "stack", "bench"]) void queries.invalidateQueries({ queryKey: [key] });
  };
  const strike = (item: KeptKit) =>
    ask(client.POST("/api/kit/{id}/strike", { params: { path: { id: item.id } } })).then(() => {
      setGone(item);
      again();
    }, setWrong);
  const restore = (item: KeptKit) =>
    ask(client.POST("/api/kit/{id}/restore", { params: { path: { id: item.id } } })).then(() => {
      setGone(null);
      again();
    }, setWrong);
  return (
    <>
      <h1 className="mb-1 text-[2.125rem] leading-tight">Kit</h1>
      <p className="mb-4 text-soft">
        Measured in centimetres, compressed as they are stood on. The Bench and the ladders propose heights
        out of these.
      </p>
      {wrong !== null && <Problem error={wrong} />}
      <div className="grid gap-x-14 gap-y-6 lg:grid-cols-[1fr_24rem]">
        <section aria-label="What there is">
          {kit.data.length === 0 && (
            <For least="coach">
              <UsualKit onAdded={again} onWrong={setWrong} />
            </For>
          )}
          <ul>
            {kit.data.map((item) => (
              <Row
                key={`${item.id} ${item.thickness_cm} ${item.count}`}
                item={item}
                most={most}
                onStrike={() => void strike(item)}
                onChanged={again}
                onWrong={setWrong}
              />
            ))}
          </ul>
          {gone && (
            <p role="status" className="mt-3">
              {capital(gone.kind)} of {gone.thickness_cm} cm struck out.{" "}
              <Button kind="quiet" className="underline" onClick={() => void restore(gone)}>
                Bring it back
              </Button>
            </p>
          )}
          <For least="coach">
            <Add onAdded={again} onWrong={setWrong} />
          </For>
        </section>
        <Stacks empty={kit.data.length === 0} />
      </div>
    </>
  );
}

interface RowProps {
  item: KeptKit;
  /** The thickest there is, cm. */
  most: number;
  onStrike: () => void;
  onChanged: () => void;
  onWrong: (error: unknown) => void;
}

function Row({ item, most, onStrike, onChanged, onWrong }: RowProps) {
  const [count, setCount] = useState(String(item.count));
  const may = useMay("coach");
  const change = () => {
    if (Number(count) === item.count) return;
    const { kind, thickness_cm, note } = item;
    const body = { kind, thickness_cm, note, count: Number(count) };
    void ask(client.PUT("/api/kit/{id}", { params: { path: { id: item.id } }, body })).then(
      onChanged,
      (error) => {
        setCount(String(item.count));
        onWrong(error);
      },
    );
  };
  const name = `${item.thickness_cm} cm ${item.kind}`;
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule py-2">
      <Slab item={item} most={most} />
      <span className="grow">
        <b>{name}</b> {item.note && <span className="text-soft">{item.note}</span>}
      </span>
      <label className="flex items-center gap-2">
        <span>how many</span>
        <input
          aria-label={`How many ${item.thickness_cm} cm ${PLURAL[item.kind]}`}
          type="number"
          min={1}
          max={99}
          className="field w-20"
          value={count}
          onChange={(event) => setCount(event.target.value)}
          onBlur={change}
          disabled={!may}
        />
      </label>
      <Button least="coach" kind="quiet" aria-label={`Strike out ${name}`} onClick={onStrike}>
        Strike out
      </Button>
    </li>
  );
}

/** A piece seen from the side, to scale with the others. */
function Slab({ item, most }: { item: KeptKit; most: number }) {
  const high = Math.max(2, (40 * item.thickness_cm) / most);
  return (
    <svg width="64" height="44" aria-hidden="true">
      <rect
        x="2"
        y={42 - high}
        width="60"
        height={high}
        rx={item.kind === "pad" ? 5 : 1}
        fill={item.kind === "pad" ? "var(--lightwood)" : "var(--wood)"}
        stroke="var(--darkwood)"
        strokeWidth="1.5"
      />
    </svg>
  );
}

function Add({ onAdded, onWrong }: { onAdded: () => void; onWrong: (error: unknown) => void }) {
  const [kind, setKind] = useState<Kind>("pad");
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    const data = new FormData(form);
    const body = {
      id: uuidv7(),
      kind,
      thickness_cm: Number(String(data.get("thickness")).replace(",", ".")),
      count: Number(data.get("count")),
      note: String(data.get("note")),
    };
    void ask(client.POST("/api/kit", { body })).then(() => {
      form.reset();
      onAdded();
    }, onWrong);
  };
  return (
    <form onSubmit={submit} className="mt-5 border-t-4 border-wood pt-3">
      <h2 className="mb-2 text-xl">Add</h2>
      <div className="grid gap-x-4 sm:grid-cols-3">
        <Field label="Kind" hint={KINDS.find(([k]) => k === kind)?.[2] ?? ""}>
          {(id) => (
            <select
              id={id}
              className="field"
              value={kind}
              onChange={(event) => setKind(event.target.value as Kind)}
            >
              {KINDS.map(([k, words]) => (
                <option key={k} value={k}>
                  {words}
                </option>
              ))}
            </select>
          )}
        </Field>
        <Field label="Thickness, cm" hint="To the millimetre, as 1.5.">
          {(id) => <input id={id} name="thickness" inputMode="decimal" required className="field" />}
        </Field>
        <Field label="How many">
          {(id) => (
            <input
              id={id}
              name="count"
              type="number"
              min={1}
              max={99}
              defaultValue={1}
              required
              className="field"
            />
          )}
        </Field>
      </div>
      <Field label="Note" hint="What tells them apart, as the mass written on a plate.">
        {(id) => <input id={id} name="note" maxLength={200} className="field" />}
      </Field>
      <Button type="submit" kind="act" live>
        Add to the kit
      </Button>
    </form>
  );
}

/** Which stack makes a height, or comes next to it. */
function Stacks({ empty }: { empty: boolean }) {
  const [text, setText] = useState("7.5");
  const height = Number(text.replace(",", "."));
  const good = Number.isFinite(height) && height > 0 && height <= 300;
  const found = useQuery({
    queryKey: ["stack", height],
    queryFn: () => ask(client.GET("/api/kit/stack", { params: { query: { height_cm: height } } })),
    enabled: good && !empty,
  }).data;
  return (
    <section aria-label="Stacks">
      <Field label="A height to make, cm">
        {(id) => (
          <input
            id={id}
            inputMode="decimal"
            className="field font-head text-3xl font-bold"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        )}
      </Field>
      {!good && <p role="alert">A height above 0 and up to 300 cm.</p>}
      {good && found && (
        <div role="status">
          {found.exact ? (
            <p className="text-xl font-bold">{found.exact.text}</p>
          ) : (
            <>
              <p className="mb-1">Not to be made exactly. Nearest:</p>
              <ul className="text-lg font-bold">
                {found.lower && <li>{found.lower.text}</li>}
                {found.higher && <li>{found.higher.text}</li>}
                {!found.lower && !found.higher && <li>nothing</li>}
              </ul>
            </>
          )}
          {found.hands && <p className="mt-2">Under both hands alike, each: {found.hands.text}.</p>}
        </div>
      )}
      <p className="mt-4 text-sm text-soft">
        Stacks take the fewest pieces, eight at most. The topmost piece under a head is a soft one, and no
        stack may slide. The venue's rules come first.
      </p>
    </section>
  );
}

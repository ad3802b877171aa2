import { type FormEvent, useState } from "react";
import { Button } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { Sheet } from "../../parts/Sheet";

/** A sheet of paper entered later: when it was written, and then its tries one by one with the same checks. */
export function PaperEntry({ disabled, onEnter }: { disabled: boolean; onEnter: (at: string) => void }) {
  const [open, setOpen] = useState(false);
  const [wrong, setWrong] = useState("");
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const at = new Date(String(new FormData(event.currentTarget).get("at")));
    if (Number.isNaN(at.getTime()) || at.getTime() > Date.now())
      return setWrong("When was it? Not in the future.");
    onEnter(at.toISOString());
  };
  return (
    <>
      <Button live disabled={disabled} onClick={() => setOpen(true)}>
        Enter a paper sheet
      </Button>
      {open && (
        <Sheet
          open
          onClose={() => setOpen(false)}
          title="From paper"
          about="The tries are typed one by one, with the same checks, and marked as entered afterwards."
        >
          <form onSubmit={submit}>
            <Field label="When was it done?">
              {(id) => <input id={id} name="at" type="datetime-local" required className="field" />}
            </Field>
            {wrong && (
              <p role="alert" className="mb-3 font-bold text-brick">
                {wrong}
              </p>
            )}
            <Button type="submit" kind="act" live>
              Enter the tries
            </Button>
          </form>
        </Sheet>
      )}
    </>
  );
}

import type { FloorSheet, Pain } from "../../api/client";
import { PainFields } from "../../parts/PainFields";

interface Props {
  sheet: FloorSheet;
  onClose: () => void;
  onPain: (pain: Pain) => void;
}

/** Pain in a session: which joint, 0 to 10. The rest of the session changes at once, and says how. */
export function PainForm({ sheet, onClose, onPain }: Props) {
  const rules = sheet.changes;
  return (
    <PainFields
      title="Pain stop"
      about="What was done so far stays kept."
      joints={sheet.joints}
      advice={`${rules.stops_at} or more, or sharp: ${rules.much} ${rules.some}`}
      submit="Change the session"
      onClose={onClose}
      onTold={(joint, level, form) => onPain({ joint, level, sharp: form.get("sharp") === "on" })}
    >
      <label className="mb-4 flex min-h-11 items-center gap-3">
        <input type="checkbox" name="sharp" className="h-6 w-6 accent-blue" />
        sharp, lasting or tingling
      </label>
    </PainFields>
  );
}

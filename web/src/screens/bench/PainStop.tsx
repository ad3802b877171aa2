import { useBench } from "../../api/hooks";
import type { LiveRun } from "../../live/run";
import { PainFields } from "../../parts/PainFields";

interface Props {
  run: LiveRun;
  onClose: () => void;
  onStop: (joint: string, level: number) => void;
}

/** Pain ends the test. The joint and 0 to 10 go with the record, and Today asks before the next loading. */
export function PainStop({ run, onClose, onStop }: Props) {
  // asked for when the test was set up, so it is at hand without a server; without it the joint is typed
  const rule = useBench(run.trainee, run.protocol.test.test).data?.pain;
  return (
    <PainFields
      title="Stop for pain"
      about="The tries done so far stay kept."
      joints={rule?.joints}
      advice={rule ? `At ${rule.stops_at} or more: ${rule.much} Below that: ${rule.some}` : ""}
      submit="Stop the test"
      onClose={onClose}
      onTold={onStop}
    />
  );
}

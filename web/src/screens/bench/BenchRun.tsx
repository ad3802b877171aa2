import { useParams } from "react-router";
import { useLiveRun } from "../../live/useLiveRun";
import { Message, Problem, Waiting } from "../../parts/Message";
import { Live } from "./Live";
import { Result } from "./Result";

/** One run: live while it goes on, its result once it has ended. */
export function BenchRun() {
  const { id = "", run: runId = "" } = useParams();
  const { run, judged, error, waiting } = useLiveRun(runId);
  if (!run) return error ? <Problem error={error} /> : <Waiting />;
  if (run.trainee !== id)
    return <Message danger>This run belongs to another trainee. Open it from that trainee's page.</Message>;
  if (run.endedAs) return <Result run={run} judged={judged} waiting={waiting} error={error} />;
  return <Live key={run.id} run={run} judged={judged} waiting={waiting} />;
}

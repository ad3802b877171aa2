import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { ask, type Coach, client } from "../../api/client";
import { setSounds } from "../../live/sounds";
import { Button } from "../../parts/Button";

/** Tones on or off; kept with the coach. */
export function SoundSwitch() {
  const queries = useQueryClient();
  // read and not asked for: the Bench goes on without a server
  const me = queries.getQueryData<Coach>(["me"]);
  const [on, setOn] = useState(me?.sounds ?? true);
  useEffect(() => setSounds(on), [on]);
  const flip = () => {
    setOn(!on);
    if (me) queries.setQueryData(["me"], { ...me, sounds: !on });
    // offline it stays so for this page
    void ask(client.PATCH("/api/me", { body: { sounds: !on } })).catch(() => undefined);
  };
  return (
    <Button kind="quiet" className="mt-2 !px-0 text-sm underline" aria-pressed={on} onClick={flip}>
      {on ? "Sounds are on" : "Sounds are off"}
    </Button>
  );
}

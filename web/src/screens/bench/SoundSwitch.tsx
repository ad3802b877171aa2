import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { ask, client } from "../../api/client";
import { useMe } from "../../api/hooks";
import { setSounds } from "../../live/sounds";
import { Button } from "../../parts/Button";

/** Tones on or off; kept with the coach. */
export function SoundSwitch() {
  const me = useMe().data;
  const queries = useQueryClient();
  const on = me?.sounds ?? true;
  useEffect(() => setSounds(on), [on]);
  const flip = () => {
    setSounds(!on);
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

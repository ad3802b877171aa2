import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type PlanPage } from "../../api/client";
import type { WishSent } from "../../api/hooks";

/** Keeps a week as it is shown as a new version; `refused` is why the last try was not kept. */
export function useKeepWeek(page: PlanPage, wish: WishSent, onKept: () => void) {
  const queries = useQueryClient();
  const [refused, setRefused] = useState<unknown>(null);
  const here = useRef(true);
  useEffect(() => {
    here.current = true;
    return () => {
      here.current = false;
    };
  }, []);
  const keep = () => {
    setRefused(null);
    const body = {
      ...wish,
      id: uuidv7(),
      at: new Date().toISOString(),
      note: "",
      fingerprint: page.fingerprint,
    };
    const path = { id: page.trainee.id };
    ask(client.POST("/api/trainees/{id}/plans", { params: { path }, body })).then(() => {
      void queries.invalidateQueries({ queryKey: ["plan"] });
      void queries.invalidateQueries({ queryKey: ["plan-week"] });
      void queries.invalidateQueries({ queryKey: ["floor"] });
      // whoever has gone on to another screen meanwhile is not fetched back
      if (here.current) onKept();
    }, setRefused);
  };
  return { keep, refused };
}

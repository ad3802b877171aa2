import type { ReactNode } from "react";
import type { Role } from "../api/client";
import { useMay } from "../api/me";

/** What is for a role and those above it; nothing for others. The server asks the same of every request. */
export function For({ least, children }: { least: Role; children: ReactNode }) {
  return useMay(least) ? children : null;
}

/** The roles in a hall, with what they are for. */
import type { Role } from "../../api/client";

export const ROLES: readonly (readonly [Role, string, string])[] = [
  ["owner", "Owner", "sees to people, syllabus and erasing, and does all a coach does"],
  ["coach", "Coach", "does all training work"],
  ["assistant", "Assistant", "sees the training, and runs Bench and Floor"],
];
/** As what somebody is in a hall. */
export const AS: Record<Role, string> = { owner: "an owner", coach: "a coach", assistant: "an assistant" };
export const ROLE_NAMES = Object.fromEntries(ROLES.map(([role, name]) => [role, name])) as Record<
  Role,
  string
>;

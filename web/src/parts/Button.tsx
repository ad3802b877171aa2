import type { ComponentProps, ReactNode } from "react";
import type { Role } from "../api/client";
import { For } from "./For";

type Kind = "act" | "plain" | "danger" | "quiet";

const LOOKS: Record<Kind, string> = {
  act: "bg-blue text-onblue border-blue",
  plain: "border-ink text-ink hover:bg-sheet",
  danger: "border-brick text-brick hover:bg-sheet",
  quiet: "border-transparent text-soft hover:text-ink",
};

interface Props extends ComponentProps<"button"> {
  kind?: Kind;
  /** For whom it is: those below this role do not see it. */
  least?: Role;
  /** The live key, shown on the control itself. */
  keycap?: string;
  /** Live controls are tall enough for a chalked thumb. */
  live?: boolean;
  children: ReactNode;
}

/** The look of a button, for links that look like one. */
export const buttonLook = (kind: Kind, live = false) =>
  `inline-flex items-center justify-center gap-2.5 rounded-md border px-4 font-bold transition-colors disabled:opacity-45 disabled:cursor-not-allowed ${
    live ? "min-h-16 text-[1.0625rem]" : "min-h-11"
  } ${LOOKS[kind]}`;

/** A button; `live` ones are tall enough for a chalked thumb. */
export function Button({ least, ...rest }: Props) {
  return least ? (
    <For least={least}>
      <Plain {...rest} />
    </For>
  ) : (
    <Plain {...rest} />
  );
}

function Plain({
  kind = "plain",
  keycap,
  live = false,
  children,
  className = "",
  ...rest
}: Omit<Props, "least">) {
  return (
    <button type="button" className={`${buttonLook(kind, live)} ${className}`} {...rest}>
      <span>{children}</span>
      {keycap && <KeyCap>{keycap}</KeyCap>}
    </button>
  );
}

/** The key that does the same, beside a button's words. */
export function KeyCap({ children }: { children: ReactNode }) {
  return (
    <span
      aria-hidden="true"
      className="rounded border border-current px-1.5 py-0.5 font-sans text-xs font-normal leading-none max-sm:hidden"
    >
      {children}
    </span>
  );
}

import { monthAfter, thisMonth } from "./months";

/** A month back, and on again as far as this one. */
export function MonthSteps({ month, onGo }: { month: string; onGo: (month: string) => void }) {
  return (
    <>
      <button type="button" className="underline" onClick={() => onGo(monthAfter(month, -1))}>
        Month before
      </button>
      {month < thisMonth() && (
        <button type="button" className="underline" onClick={() => onGo(monthAfter(month, 1))}>
          Month after
        </button>
      )}
    </>
  );
}

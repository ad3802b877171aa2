import { isoDay } from "../../parts/words";

const NAME = new Intl.DateTimeFormat("en-GB", { month: "long", year: "numeric" });

/** The first day of this month. */
export const thisMonth = () => `${isoDay(new Date()).slice(0, 7)}-01`;
/** A month so many months later, by its first day. */
export const monthAfter = (month: string, many: number) => {
  const [year = 2000, number = 1] = month.split("-").map(Number);
  return isoDay(new Date(year, number - 1 + many, 1, 12));
};
/** A month as it is said: "November 2026". */
export const monthName = (month: string) => NAME.format(new Date(`${month}T12:00:00`));

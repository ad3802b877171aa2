/** Light by default; the dark hall theme for evening classes. The choice is this browser's. */
export type Theme = "day" | "hall";

/** Daylight or the dark hall, as chosen in this browser. */
export const readTheme = (): Theme => (localStorage.getItem("perch.theme") === "hall" ? "hall" : "day");

/** Choose daylight or the dark hall. */
export function setTheme(theme: Theme) {
  localStorage.setItem("perch.theme", theme);
  document.documentElement.dataset.theme = theme;
}

/** Light or the dark hall theme for evening classes, as the system wishes until it is chosen. The choice is this browser's. */
export type Theme = "day" | "hall";

/** Daylight or the dark hall, as chosen in this browser. */
export function readTheme(): Theme {
  const chosen = localStorage.getItem("perch.theme");
  if (chosen === "hall" || chosen === "day") return chosen;
  return window.matchMedia("(prefers-color-scheme: dark)").matches ? "hall" : "day";
}

/** What the system draws round the page. */
const PAPER: Record<Theme, string> = { day: "#f6f2e9", hall: "#17201d" };

/** Show daylight or the dark hall. */
export function showTheme(theme: Theme) {
  document.documentElement.dataset.theme = theme;
  document.querySelector('meta[name="theme-color"]')?.setAttribute("content", PAPER[theme]);
}

/** Choose daylight or the dark hall. */
export function setTheme(theme: Theme) {
  localStorage.setItem("perch.theme", theme);
  showTheme(theme);
}

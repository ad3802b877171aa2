import { saveAs } from "./saveAs";

const COLOUR = /var\(--([a-z]+)\)/g;

/** Save the drawing inside a box as an SVG that stands by itself: its colours and typeface written out. */
export function saveDrawing(box: HTMLElement | null, name: string) {
  const drawn = box?.querySelector("svg");
  if (!drawn) return;
  const copy = drawn.cloneNode(true) as SVGElement;
  const style = getComputedStyle(document.documentElement);
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("font-family", "sans-serif");
  copy.setAttribute("viewBox", `0 0 ${drawn.getAttribute("width")} ${drawn.getAttribute("height")}`);
  const text = new XMLSerializer()
    .serializeToString(copy)
    .replace(COLOUR, (_, colour: string) => style.getPropertyValue(`--${colour}`).trim());
  saveAs(name, text, "image/svg+xml");
}

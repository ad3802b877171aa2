import { type ReactNode, useRef } from "react";
import { saveDrawing } from "./saveDrawing";

/** A drawing that can be kept: what stands in it, and below it the way to save it as an SVG. */
export function Drawing({
  name,
  words = "Save the drawing",
  children,
}: {
  name: string;
  words?: string;
  children: ReactNode;
}) {
  const box = useRef<HTMLDivElement>(null);
  return (
    <>
      <div ref={box}>{children}</div>
      <button
        type="button"
        className="min-h-11 underline print:hidden"
        onClick={() => saveDrawing(box.current, `${name}.svg`)}
      >
        {words}
      </button>
    </>
  );
}

import { type RefObject, useEffect, useRef, useState } from "react";

/** How wide a drawing may be, px: as wide as the box it stands in, and again whenever that changes. */
export function useWidth(first: number): [RefObject<HTMLDivElement | null>, number] {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(first);
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    if (box.current) watch.observe(box.current);
    return () => watch.disconnect();
  }, []);
  return [box, width];
}

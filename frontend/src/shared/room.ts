import { useMediaQuery } from "@mui/material";
import { useLayoutEffect, useRef, useState, type RefObject } from "react";

/** Least size of text in a drawing, as it is on the screen [px]. */
const LEAST_TEXT = 12.5;

/** The width that an element has on the screen; a guess until it is there. */
export function useRoom<E extends Element>(guess: number): [RefObject<E | null>, number] {
  const box = useRef<E>(null);
  const [width, setWidth] = useState(guess);
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const measure = () => setWidth(element.getBoundingClientRect().width || guess);
    measure();
    const watcher = new ResizeObserver(measure);
    watcher.observe(element);
    return () => watcher.disconnect();
  }, [guess]);
  return [box, width];
}

/** Text sizes of a drawing of so many units' width, shown so wide: as asked, and never too small to read. */
export function textIn(units: number, shown: number): (size: number) => number {
  const least = (LEAST_TEXT * units) / Math.max(1, shown);
  return (size) => Math.max(size, least);
}

/** Height of the screen below what stands above, and at least so much. */
export function useHeightBelow(above: number, least: number, most: number): number {
  const [high, setHigh] = useState(() => window.innerHeight);
  useLayoutEffect(() => {
    const measure = () => setHigh(window.innerHeight);
    window.addEventListener("resize", measure);
    return () => window.removeEventListener("resize", measure);
  }, []);
  return Math.min(most, Math.max(least, high - above));
}

/** Height from where an element stands to the foot of the screen, less what stands under it; and at least so much. */
export function useHeightToFoot<E extends Element>(
  under: number,
  least: number,
  most: number,
): [RefObject<E | null>, number] {
  const box = useRef<E>(null);
  const [high, setHigh] = useState(least);
  useLayoutEffect(() => {
    const measure = () => {
      const top = (box.current?.getBoundingClientRect().top ?? 0) + window.scrollY;
      setHigh(Math.min(most, Math.max(least, Math.floor(window.innerHeight - top - under))));
    };
    measure();
    window.addEventListener("resize", measure);
    return () => window.removeEventListener("resize", measure);
  }, [under, least, most]);
  return [box, high];
}

/** A phone, or a screen enlarged to twice its size: what is not the answer keeps itself small. */
export function useSmallScreen(): boolean {
  return useMediaQuery("(max-width: 600px), (max-height: 500px)");
}

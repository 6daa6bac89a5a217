import { useEffect, useRef } from "react";

const SWIPE_PX = 70;

/** By key or pedal. */
export function useKeys({
  next,
  back,
  close,
  quiet,
}: {
  next: () => void;
  back: () => void;
  close: () => void;
  quiet: boolean;
}) {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && event.target.closest("input, textarea");
      if (quiet || typing || event.repeat) return;
      if (event.key === "PageDown" || event.key === "ArrowRight") next();
      else if (event.key === "PageUp" || event.key === "ArrowLeft") back();
      else if (event.key === "Escape") close();
      else return;
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener("keydown", press, true);
    return () => window.removeEventListener("keydown", press, true);
  }, [next, back, close, quiet]);
}

/** By a swipe across the screen. */
export function useSwipe(next: () => void, back: () => void) {
  const start = useRef<{ x: number; y: number } | null>(null);
  return {
    onTouchStart: (event: React.TouchEvent) => {
      const touch = event.touches[0];
      start.current = touch && event.touches.length === 1 ? { x: touch.clientX, y: touch.clientY } : null;
    },
    onTouchEnd: (event: React.TouchEvent) => {
      const touch = event.changedTouches[0];
      const from = start.current;
      start.current = null;
      if (!touch || !from) return;
      const dx = touch.clientX - from.x;
      if (Math.abs(dx) < SWIPE_PX || Math.abs(dx) < 2 * Math.abs(touch.clientY - from.y)) return;
      if (dx < 0) next();
      else back();
    },
  };
}

import { useEffect } from "react";

/** Whether the keyboard belongs to a field, list, slider or dialog now. */
export function keyboardIsTaken(target: EventTarget | null): boolean {
  if (document.querySelector('[role="dialog"], [role="listbox"], [role="menu"]')) return true;
  if (!(target instanceof HTMLElement)) return false;
  return (
    target.isContentEditable ||
    Boolean(target.closest('input, textarea, select, [role="combobox"], [role="slider"]'))
  );
}

/** Calls for single keys, only while no field has the keyboard. */
export function useHotkeys(keys: Record<string, (() => void) | undefined>): void {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || keyboardIsTaken(event.target)) return;
      const act = keys[event.key];
      if (act) {
        event.preventDefault();
        act();
      }
    };
    window.addEventListener("keydown", listen);
    return () => {
      window.removeEventListener("keydown", listen);
    };
  }, [keys]);
}

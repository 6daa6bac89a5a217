/** A ref that takes the focus when its element is first shown. */
export function focusWhenShown(element: HTMLElement | null): void {
  element?.focus();
}

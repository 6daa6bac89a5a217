/** What this browser keeps is checked when it is read: another release, or a hand, may have left anything there. */

type Check<Value> = (value: unknown) => value is Value;

export function readStored<Value>(
  storage: Storage,
  key: string,
  check: Check<Value>,
  otherwise: Value,
): Value {
  const text = storage.getItem(key);
  if (text === null) return otherwise;
  try {
    const value: unknown = JSON.parse(text);
    if (check(value)) return value;
  } catch {
    // Not JSON: as good as nothing.
  }
  storage.removeItem(key);
  return otherwise;
}

export function keepStored(storage: Storage, key: string, value: unknown): void {
  try {
    storage.setItem(key, JSON.stringify(value));
  } catch {
    // A full or forbidden store only forgets.
  }
}

export const isText = (value: unknown): value is string => typeof value === "string";

export const isListOf =
  <Value>(check: Check<Value>) =>
  (value: unknown): value is Value[] =>
    Array.isArray(value) && value.every(check);

export const isOneOf =
  <Value extends string>(allowed: readonly Value[]) =>
  (value: unknown): value is Value =>
    isText(value) && (allowed as readonly string[]).includes(value);

/** An object with these fields, each as its check says; others are ignored. */
export const hasFields =
  <Shape extends object>(checks: { [Name in keyof Shape]: Check<Shape[Name]> }) =>
  (value: unknown): value is Shape =>
    typeof value === "object" &&
    value !== null &&
    Object.entries<Check<unknown>>(checks).every(([name, check]) =>
      check((value as Record<string, unknown>)[name]),
    );

export const isBoolean = (value: unknown): value is boolean => typeof value === "boolean";
export const isCount = (value: unknown): value is number => Number.isInteger(value) && Number(value) > 0;

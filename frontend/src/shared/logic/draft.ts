/** Fields as they stand on the screen: typed ones over saved ones. */
export const drafted = <Fields extends object>(saved: Fields, typed: Partial<Fields>): Fields => ({
  ...saved,
  ...typed,
});

/** What was typed after it was sent, once what was sent is saved. */
export function stillTyped<Fields extends object>(typed: Partial<Fields>, sent: Fields): Partial<Fields> {
  const left = Object.entries(typed).filter(([name, value]) => sent[name as keyof Fields] !== value);
  return Object.fromEntries(left) as Partial<Fields>;
}

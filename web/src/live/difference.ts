/** What makes one object of another, as the server's JsonDifference says it. */
export type Difference = Record<string, Change>;
type Change = { is: unknown } | { in: Difference } | { at: number; gone: number; put: unknown[] } | { none: true };

/** Carries a difference out; what didn't change stays the same object. */
export function applied<T extends object>(to: T, difference: Difference): T {
  const result = { ...to } as Record<string, unknown>;
  for (const [name, change] of Object.entries(difference)) {
    const old = result[name];
    if ('is' in change) result[name] = change.is;
    else if ('in' in change) result[name] = applied(old as object, change.in);
    else if ('none' in change) delete result[name];
    else {
      const array = old as unknown[];
      result[name] = [...array.slice(0, change.at), ...change.put, ...array.slice(change.at + change.gone)];
    }
  }
  return result as T;
}

import { createContext, use, useCallback, useEffect, useState } from 'react';

/** Whose choices are kept: the signed-in person's number. Several people may share a browser. */
export const KeptFor = createContext(0);

const nameOf = (person: number, name: string) => `folio.${person}.${name}`;

// The same choice may be shown in several places of the page.
const changed = new EventTarget();

/** A choice that this browser keeps for a person, such as a folded panel: as state that outlives the page. */
export function useKept<T>(name: string, initial: T): [T, (value: T) => void] {
  const person = use(KeptFor);
  const [value, setValue] = useState(() => read(person, name, initial));
  const keep = useCallback(
    (next: T) => {
      setValue(next);
      write(person, name, next);
      changed.dispatchEvent(new CustomEvent(nameOf(person, name), { detail: next }));
    },
    [person, name],
  );
  useEffect(() => {
    const take = (event: Event) => setValue((event as CustomEvent<T>).detail);
    changed.addEventListener(nameOf(person, name), take);
    return () => changed.removeEventListener(nameOf(person, name), take);
  }, [person, name]);
  return [value, keep];
}

/** A kept choice; the initial one when there is none, or one that can't be read. */
export function read<T>(person: number, name: string, initial: T): T {
  try {
    const text = localStorage.getItem(nameOf(person, name));
    return text === null ? initial : (JSON.parse(text) as T);
  } catch {
    return initial;
  }
}

/** Keeps a choice; a browser may forbid it, then it holds until the page goes. */
export function write(person: number, name: string, value: unknown) {
  try {
    localStorage.setItem(nameOf(person, name), JSON.stringify(value));
  } catch {
    // Nothing to be done, and nothing is lost but the choice.
  }
}

/** Storage for the sizes of leaves, in the form that the panels want. */
export const sizesOf = (person: number) => ({
  getItem: (key: string) => read<string | null>(person, `sizes.${key}`, null),
  setItem: (key: string, value: string) => write(person, `sizes.${key}`, value),
});

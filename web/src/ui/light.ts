import { useEffect, useSyncExternalStore } from 'react';
import { useKept } from './useKept';

/** By which light the application is looked at; `machine`: as the machine's other programs. */
export type Light = 'machine' | 'day' | 'lamp';

export const lights: Readonly<Record<Light, string>> = {
  machine: 'As this machine',
  day: 'Day',
  lamp: 'Lamp',
};

const dark = window.matchMedia('(prefers-color-scheme: dark)');
const listen = (told: () => void) => {
  dark.addEventListener('change', told);
  return () => dark.removeEventListener('change', told);
};

/** A person's light, and another one. */
export const useLight = () => useKept<Light>('light', 'machine');

/** Lights the page as its person wants it. */
export function useLighting() {
  const [light] = useLight();
  const isDark = useSyncExternalStore(listen, () => dark.matches);
  const theme = light === 'machine' ? (isDark ? 'lamp' : 'day') : light;
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
}

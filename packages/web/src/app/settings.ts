import { create } from 'zustand';
import { persist } from 'zustand/middleware';

export type Theme = 'paper' | 'night';

interface Settings {
  theme: Theme;
  keyboardOpen: boolean;
  setTheme(theme: Theme): void;
  setKeyboardOpen(open: boolean): void;
}

/** What a person has chosen for this browser. */
export const useSettings = create<Settings>()(
  persist(
    (set) => ({
      theme: window.matchMedia('(prefers-color-scheme: dark)').matches ? 'night' : 'paper',
      keyboardOpen: false,
      setTheme: (theme) => set({ theme }),
      setKeyboardOpen: (keyboardOpen) => set({ keyboardOpen }),
    }),
    { name: 'imprint-settings' },
  ),
);

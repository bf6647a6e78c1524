import { create } from 'zustand';
import { persist } from 'zustand/middleware';

export type Theme = 'paper' | 'night';

interface Settings {
  theme: Theme;
  keyboardOpen: boolean;
  /** Whether keys that write a character are shortcuts. */
  characterKeys: boolean;
  /** Which parts of screens are folded out, where that was chosen. */
  folds: Readonly<Record<string, boolean>>;
  setTheme(theme: Theme): void;
  setKeyboardOpen(open: boolean): void;
  setCharacterKeys(on: boolean): void;
  setFold(id: string, open: boolean): void;
}

/** What a person has chosen for this browser. */
export const useSettings = create<Settings>()(
  persist(
    (set) => ({
      theme: window.matchMedia('(prefers-color-scheme: dark)').matches ? 'night' : 'paper',
      keyboardOpen: false,
      characterKeys: true,
      folds: {},
      setTheme: (theme) => set({ theme }),
      setKeyboardOpen: (keyboardOpen) => set({ keyboardOpen }),
      setCharacterKeys: (characterKeys) => set({ characterKeys }),
      setFold: (id, open) => set(({ folds }) => ({ folds: { ...folds, [id]: open } })),
    }),
    { name: 'imprint-settings' },
  ),
);

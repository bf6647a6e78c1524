import { create } from 'zustand';

/** The module of the layer whose rulers are shown. */
export const useSelection = create<{ moduleId: string }>(() => ({ moduleId: 'filter-1' }));

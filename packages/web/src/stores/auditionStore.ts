import { create } from 'zustand';
import { type Audition, NO_AUDITION } from '@imprint/core/patch/edits/audition';

/** What is listened to apart from the patch itself. It is never saved. */
export const useAudition = create<Audition>(() => NO_AUDITION);

const { getState, setState } = useAudition;

/** Lets an element sound alone, or everything again when it did already. */
export function toggleSolo(layerId: string | null, moduleId: string | null): void {
  const { solo } = getState();
  const same = solo?.layerId === layerId && solo.moduleId === moduleId;
  setState({ solo: same ? null : { layerId, moduleId } });
}

export const exaggerate = (layerId: string, id: string) => setState({ exaggerated: { layerId, id } });
export const stopExaggerating = () => setState({ exaggerated: null });
export const endAudition = () => setState(NO_AUDITION);

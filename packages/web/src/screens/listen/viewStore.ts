import { create } from 'zustand';

/** What stretch of the reference is shown. */
interface View {
  fromSeconds: number;
  toSeconds: number;
}

export const useView = create<View>(() => ({ fromSeconds: 0, toSeconds: 1 }));

const SHORTEST_SECONDS = 0.02;

/** Shows a stretch, kept inside the file and not shorter than 20 ms. */
export function showStretch(fromSeconds: number, toSeconds: number, durationSeconds: number): void {
  const length = Math.min(durationSeconds, Math.max(SHORTEST_SECONDS, toSeconds - fromSeconds));
  const from = Math.min(durationSeconds - length, Math.max(0, fromSeconds));
  useView.setState({ fromSeconds: from, toSeconds: from + length });
}

/** Makes the stretch shorter (factor under 1) or longer, with one moment staying where it is. */
export function zoomView(factor: number, aroundSeconds: number, durationSeconds: number): void {
  const { fromSeconds, toSeconds } = useView.getState();
  const around = Math.min(toSeconds, Math.max(fromSeconds, aroundSeconds));
  showStretch(around - (around - fromSeconds) * factor, around + (toSeconds - around) * factor, durationSeconds);
}

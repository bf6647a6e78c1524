const RATE_HZ = 44100;

export interface GlidingLine {
  midis: readonly number[];
  /** From the start of one note to that of the next. */
  noteSeconds: number;
  /** The pitch goes in a straight line from note to note; 0 steps. */
  glideSeconds: number;
}

/** A line of a saw that sounds on through its notes, by formula. */
export function glidingLine({ midis, noteSeconds, glideSeconds }: GlidingLine): Float32Array {
  let cycles = 0;
  return Float32Array.from({ length: Math.round((midis.length * noteSeconds + 0.1) * RATE_HZ) }, (_, i) => {
    const t = i / RATE_HZ;
    const k = Math.min(midis.length - 1, Math.floor(t / noteSeconds));
    const before = midis[Math.max(0, k - 1)];
    const along = glideSeconds > 0 ? Math.min(1, (t - k * noteSeconds) / glideSeconds) : 1;
    const hz = 440 * 2 ** ((before + (midis[k] - before) * along - 69) / 12);
    cycles += hz / RATE_HZ;
    let x = 0;
    for (let n = 1; n <= 20 && n * hz < 20000; n++) x += Math.sin(2 * Math.PI * n * cycles) / n;
    return 0.2 * x * Math.min(1, t / 0.01);
  });
}

declare module 'music-tempo' {
  /** Beats of a sound at 44.1 kHz (Dixon 2001). */
  export default class MusicTempo {
    constructor(samples: number[] | Float32Array);
    tempo: string | number;
  }
}

/** Decoded sound: one or two channels of equal length, full scale ±1. */
export interface Audio {
  channels: Float32Array[];
  sampleRateHz: number;
}

/** A tone by itself. */
export interface IsolatedTone {
  audio: Audio;
  /** What else sounded with it, where it was taken out of a track: as long, and at the same rate. */
  surroundings?: Audio;
}

export const durationOf = ({ channels, sampleRateHz }: Audio) => channels[0].length / sampleRateHz;

/** The span `fromSeconds..toSeconds` of a sound, limited to what there is. Views, not copies. */
export function sliceAudio({ channels, sampleRateHz }: Audio, fromSeconds: number, toSeconds: number): Audio {
  const from = Math.max(0, Math.round(fromSeconds * sampleRateHz));
  const to = Math.round(toSeconds * sampleRateHz);
  return { channels: channels.map((channel) => channel.subarray(from, to)), sampleRateHz };
}

/** The same sound in so many channels: a single one is heard from each of them. */
export function inChannels(audio: Audio, count: number): Audio {
  const { channels } = audio;
  return { ...audio, channels: Array.from({ length: count }, (_, c) => channels[c] ?? channels[0]) };
}

/** Mean of the channels. */
export function toMono({ channels }: Audio): Float64Array {
  const mono = new Float64Array(channels[0].length);
  for (const channel of channels) for (let i = 0; i < mono.length; i++) mono[i] += channel[i] / channels.length;
  return mono;
}

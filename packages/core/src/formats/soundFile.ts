/** A sound file whose header was read, and whose samples come in blocks. */
export interface SoundFile {
  /** What the header tells; undefined where only decoding does. */
  announced: { sampleRateHz?: number; channels?: number; frames?: number };
  /** The samples in order, one array a channel, full scale ±1. Throws an InputError when they are damaged. */
  blocks(): AsyncIterable<SoundBlock> | Iterable<SoundBlock>;
}

export interface SoundBlock {
  channels: Float32Array[];
  sampleRateHz: number;
}

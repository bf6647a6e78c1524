import type { Contour, Cue, CueNote, DrumHit, ToneSettings } from './cue';

/**
 * Plays a cue with Chromium's own Web Audio nodes: a synthesizer that shares nothing with the engine of this
 * project, so that rebuilding its tones proves something. Runs in a page; left and right come back as arrays
 * of samples.
 */
async function renderCue(cue: Cue, sampleRateHz: number): Promise<[number[], number[]]> {
  const beatSeconds = 60 / cue.bpm;
  const frames = Math.round(cue.beats * beatSeconds * sampleRateHz);
  const context = new OfflineAudioContext(2, frames, sampleRateHz);
  const master = new GainNode(context, { gain: 0.9 });
  master.connect(context.destination);
  playTone(context, cue.tone, cue.melody, beatSeconds, master);
  playCompanion(context, cue, beatSeconds, master);
  for (const hit of cue.drums) playDrum(context, hit, hit.beat * beatSeconds, master);
  const buffer = await context.startRendering();
  return [Array.from(buffer.getChannelData(0)), Array.from(buffer.getChannelData(1))];
}

const gainOf = (levelDb: number) => 10 ** (levelDb / 20);
const hzOf = (midi: number) => 440 * 2 ** ((midi - 69) / 12);

function playTone(
  context: OfflineAudioContext,
  tone: ToneSettings,
  notes: CueNote[],
  beatSeconds: number,
  output: AudioNode,
): void {
  const bus = new GainNode(context, { gain: gainOf(tone.levelDb) });
  let wet: AudioNode = bus;
  if (tone.chorus) {
    const { delaySeconds, depthSeconds, rateHz, mix } = tone.chorus;
    const delay = new DelayNode(context, { delayTime: delaySeconds, maxDelayTime: 0.2 });
    const lfo = new OscillatorNode(context, { frequency: rateHz });
    lfo.connect(new GainNode(context, { gain: depthSeconds })).connect(delay.delayTime);
    lfo.start();
    const sum = new GainNode(context);
    bus.connect(sum);
    bus
      .connect(delay)
      .connect(new GainNode(context, { gain: mix }))
      .connect(new StereoPannerNode(context, { pan: 0.6 }))
      .connect(sum);
    wet = sum;
  }
  if (tone.echo) {
    const { beats, feedback, mix } = tone.echo;
    const delay = new DelayNode(context, { delayTime: beats * beatSeconds, maxDelayTime: 4 });
    const loop = new GainNode(context, { gain: feedback });
    wet.connect(delay).connect(loop).connect(delay);
    delay.connect(new GainNode(context, { gain: mix })).connect(output);
  }
  wet.connect(output);
  notes.forEach((note, i) => playNote(context, tone, note, notes[i - 1], beatSeconds, bus));
}

function playNote(
  context: OfflineAudioContext,
  tone: ToneSettings,
  note: CueNote,
  previous: CueNote | undefined,
  beatSeconds: number,
  bus: AudioNode,
): void {
  const start = note.beat * beatSeconds;
  const off = (note.beat + note.beats) * beatSeconds;
  const end = off + tone.amp.releaseTau * 9;
  const amp = new GainNode(context, { gain: 0 });
  applyContour(amp.gain, tone.amp, start, off, 0, note.velocity);
  const drive = new WaveShaperNode(context, { curve: driveCurve(tone.drive), oversample: '4x' });
  const { restHz, peakHz, resonanceDb, contour } = tone.filter;
  const stages = [0, 1].map((stage) => {
    const filter = new BiquadFilterNode(context, { type: 'lowpass', Q: stage === 1 ? resonanceDb : -3 });
    applyContour(filter.frequency, contour, start, off, restHz, peakHz - restHz);
    return filter;
  });
  stages[0].connect(stages[1]).connect(drive).connect(amp).connect(bus);
  for (const { type, semitones, detuneCents, levelDb, pan } of tone.oscillators) {
    const oscillator = new OscillatorNode(context, { type, detune: detuneCents });
    const target = hzOf(note.midi + semitones);
    oscillator.frequency.setValueAtTime(target, start);
    if (tone.glideSeconds && previous) {
      oscillator.frequency.setValueAtTime(hzOf(previous.midi + semitones), start);
      oscillator.frequency.exponentialRampToValueAtTime(target, start + tone.glideSeconds);
    }
    if (tone.vibrato) addVibrato(context, tone.vibrato, oscillator.detune, start, end);
    const panner = new StereoPannerNode(context, { pan });
    oscillator
      .connect(new GainNode(context, { gain: gainOf(levelDb) }))
      .connect(panner)
      .connect(stages[0]);
    oscillator.start(start);
    oscillator.stop(end);
  }
  if (tone.noise)
    playNoise(context, start, tone.noise.decaySeconds, gainOf(tone.noise.levelDb) * note.velocity, 2500, bus);
}

function applyContour(
  param: AudioParam,
  contour: Contour,
  start: number,
  off: number,
  rest: number,
  height: number,
): void {
  param.setValueAtTime(rest, start);
  param.linearRampToValueAtTime(rest + height, start + contour.attackSeconds);
  param.setTargetAtTime(rest + height * contour.sustain, start + contour.attackSeconds, contour.decayTau);
  param.setTargetAtTime(rest, off, contour.releaseTau);
}

function addVibrato(
  context: OfflineAudioContext,
  { rateHz, depthCents, fadeInSeconds }: NonNullable<ToneSettings['vibrato']>,
  target: AudioParam,
  start: number,
  end: number,
): void {
  const lfo = new OscillatorNode(context, { frequency: rateHz });
  const depth = new GainNode(context, { gain: 0 });
  depth.gain.setValueAtTime(0, start + 0.2);
  depth.gain.linearRampToValueAtTime(depthCents, start + 0.2 + fadeInSeconds);
  lfo.connect(depth).connect(target);
  lfo.start(start);
  lfo.stop(end);
}

function driveCurve(amount: number): Float32Array<ArrayBuffer> {
  const curve = new Float32Array(4097);
  for (let i = 0; i < curve.length; i++) {
    const x = (i / 2048 - 1) * amount;
    curve[i] = Math.tanh(x) / Math.tanh(Math.max(1, amount));
  }
  return curve;
}

/** A fixed series instead of Math.random, so that authoring twice gives the same files. */
function noiseBuffer(context: OfflineAudioContext, seconds: number): AudioBuffer {
  const buffer = new AudioBuffer({ length: Math.ceil(seconds * context.sampleRate), sampleRate: context.sampleRate });
  const samples = buffer.getChannelData(0);
  let state = 22695477;
  for (let i = 0; i < samples.length; i++) {
    state = (Math.imul(state, 1664525) + 1013904223) | 0;
    samples[i] = state / 2147483648;
  }
  return buffer;
}

function playNoise(
  context: OfflineAudioContext,
  start: number,
  tau: number,
  level: number,
  highPassHz: number,
  output: AudioNode,
): void {
  const source = new AudioBufferSourceNode(context, { buffer: noiseBuffer(context, tau * 8) });
  const gain = new GainNode(context, { gain: 0 });
  gain.gain.setValueAtTime(level, start);
  gain.gain.setTargetAtTime(0, start, tau);
  source
    .connect(new BiquadFilterNode(context, { type: 'highpass', frequency: highPassHz }))
    .connect(gain)
    .connect(output);
  source.start(start);
}

function playCompanion(context: OfflineAudioContext, cue: Cue, beatSeconds: number, output: AudioNode): void {
  for (const note of cue.companion) {
    const start = note.beat * beatSeconds;
    const off = (note.beat + note.beats) * beatSeconds;
    const oscillator = new OscillatorNode(context, { type: 'triangle', frequency: hzOf(note.midi) });
    const gain = new GainNode(context, { gain: 0 });
    applyContour(
      gain.gain,
      { attackSeconds: 0.03, decayTau: 0.5, sustain: 0.6, releaseTau: 0.08 },
      start,
      off,
      0,
      gainOf(cue.companionLevelDb),
    );
    oscillator.connect(gain).connect(output);
    oscillator.start(start);
    oscillator.stop(off + 1);
  }
}

function playDrum(context: OfflineAudioContext, { kind, levelDb }: DrumHit, start: number, output: AudioNode): void {
  const level = gainOf(levelDb);
  if (kind === 'hat') return playNoise(context, start, 0.018, level, 7000, output);
  if (kind === 'snare') playNoise(context, start, 0.06, level, 1200, output);
  const oscillator = new OscillatorNode(context, { frequency: 50 });
  oscillator.frequency.setValueAtTime(kind === 'kick' ? 150 : 240, start);
  oscillator.frequency.setTargetAtTime(kind === 'kick' ? 48 : 170, start, 0.025);
  const gain = new GainNode(context, { gain: 0 });
  gain.gain.setValueAtTime(level, start);
  gain.gain.setTargetAtTime(0, start, kind === 'kick' ? 0.09 : 0.04);
  oscillator.connect(gain).connect(output);
  oscillator.start(start);
  oscillator.stop(start + 1);
}

Object.assign(globalThis, { renderCue });

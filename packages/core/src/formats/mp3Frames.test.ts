import { sourceOf } from './byteSource';
import { walkMp3 } from './mp3Frames';

/** 128 kbit/s at 44.1 kHz, layer 3 of MPEG 1, stereo: 417 bytes (ISO 11172-3 2.4.3.1). */
const HEADER = [0xff, 0xfb, 0x90, 0x00];
const FRAME_BYTES = 417;

function frame({ header = HEADER, bytes = FRAME_BYTES, inside = [] as number[] } = {}): number[] {
  const body = new Array<number>(bytes).fill(0x55);
  header.forEach((byte, i) => (body[i] = byte));
  inside.forEach((byte, i) => (body[36 + i] = byte));
  return body;
}

const frames = (count: number, options = {}) => Array.from({ length: count }, () => frame(options)).flat();
const walk = (bytes: readonly number[], maxSeconds = 3600) => walkMp3(sourceOf(Uint8Array.from(bytes)), maxSeconds);
const letters = (text: string) => [...text].map((letter) => letter.charCodeAt(0));
/** The first frame's tag: its flags say that a number of frames follows. */
const announcing = (count: number) =>
  frame({ inside: [...letters('Info'), 0, 0, 0, 1, 0, 0, count >> 8, count & 255] });

describe('Frames of an MP3 file', () => {
  it.each([
    ['MPEG 1, stereo', {}, 44100, 2, 1152],
    ['with padding', { header: [0xff, 0xfb, 0x92, 0x00], bytes: FRAME_BYTES + 1 }, 44100, 2, 1152],
    ['mono at 48 kHz, 64 kbit/s', { header: [0xff, 0xfb, 0x54, 0xc0], bytes: 192 }, 48000, 1, 1152],
    ['MPEG 2 at 22.05 kHz, 64 kbit/s', { header: [0xff, 0xf3, 0x80, 0x00], bytes: 208 }, 22050, 2, 576],
    ['MPEG 2.5 at 11.025 kHz, 16 kbit/s', { header: [0xff, 0xe3, 0x20, 0xc0], bytes: 104 }, 11025, 1, 576],
  ])('are counted: %s', (_, options, sampleRateHz, channels, samples) => {
    expect(walk(frames(7, options))).toEqual({ sampleRateHz, channels, frames: 7 * samples });
  });

  it('one that announces others holds no sound', () => {
    expect(walk([...announcing(5), ...frames(5)]).frames).toBe(5 * 1152);
  });

  it('are found behind a description, and end before those at the end', () => {
    const id3 = [...letters('ID3'), 4, 0, 0, 0, 0, 1, 2, ...new Array<number>(130).fill(0xff)];
    const ape = [...letters('APETAGEX'), 0, 0, 0, 0, 50, 0, 0, 0, ...new Array<number>(16).fill(0)];
    const behind = [...new Array<number>(18).fill(7), ...ape, ...letters('TAG'), ...new Array<number>(125).fill(32)];
    expect(walk([...id3, ...frames(6), ...behind]).frames).toBe(6 * 1152);
  });

  it('are walked no further than asked for', () => {
    expect(walk(frames(200), 0.1).frames).toBe(4 * 1152);
  });

  it('a slip between two of them is skipped', () => {
    expect(walk([...frames(20), 1, 2, 3, ...frames(20)]).frames).toBe(40 * 1152);
  });
});

describe('A file that is not whole says so', () => {
  it.each([
    ['its last frame is cut', frames(6).slice(0, -20), 'its last frame is cut off'],
    ['frames are missing', [...announcing(300), ...frames(5)], 'announces 300 frames and holds 5'],
    ['it is its description alone', [...letters('ID3'), 4, 0, 0, 0, 0, 9, 9, 1, 1], 'ends within its description'],
    ['no frames follow one another', [...frame(), ...new Array<number>(3000).fill(9)], 'no sound follows'],
    ['a third of it is something else', [...frames(10), ...new Array<number>(2000).fill(9), ...frames(4)], 'damaged'],
  ])('where %s', (_, bytes, words) => {
    expect(() => walk(bytes)).toThrow(words);
  });
});

import { create } from 'zustand';
import type { Deck } from '../audio/deck';
import type { Side } from '../audio/worklet/messages';

interface Span {
  fromSeconds: number;
  toSeconds: number;
}

interface TransportState {
  deck: Deck | null;
  playing: boolean;
  /** Whether the deck can be heard; it is held while nothing sounds. */
  isRunning: boolean;
  side: Side;
  /** Whether playing goes round in the cut. */
  looping: boolean;
  /** The cut, or what else is to be gone round in. */
  span: Span | null;
  /** Where playing starts next, when nothing plays. */
  cursorSeconds: number;
  equalLoudness: boolean;
  /** What makes the patch as loud as the reference, dB; null before the first proof. */
  loudnessMatchDb: number | null;
  /** Whether what is heard as the patch is as loud as the reference by itself. */
  isAsLoud: boolean;
  recording: boolean;
}

export const useTransport = create<TransportState>(() => ({
  deck: null,
  playing: false,
  isRunning: false,
  side: 'reference',
  looping: true,
  span: null,
  cursorSeconds: 0,
  equalLoudness: true,
  loudnessMatchDb: null,
  isAsLoud: false,
  recording: false,
}));

const { getState, setState } = useTransport;

export const transport = {
  attach(deck: Deck | null) {
    getState().deck?.close();
    setState({
      deck,
      playing: false,
      isRunning: deck?.isRunning ?? false,
      side: 'reference',
      cursorSeconds: 0,
      span: null,
      loudnessMatchDb: null,
      isAsLoud: false,
      recording: false,
    });
    applyGains();
  },

  play(fromSeconds?: number) {
    const { deck, looping, span, cursorSeconds } = getState();
    if (!deck) return;
    const start = fromSeconds ?? (looping && span ? span.fromSeconds : cursorSeconds);
    applyLoop();
    deck.play(start);
    setState({ playing: true });
  },

  stop() {
    const { deck, playing } = getState();
    if (!deck || !playing) return;
    setState({ playing: false, cursorSeconds: deck.positionSeconds });
    deck.stop();
  },

  toggle: () => (getState().playing ? transport.stop() : transport.play()),

  /** Moves the place where playing is, or where it will start. */
  seek(seconds: number) {
    setState({ cursorSeconds: seconds });
    const { playing, deck, span, looping } = getState();
    if (!playing) return;
    // Going outside the loop means leaving it.
    if (looping && span && (seconds < span.fromSeconds || seconds >= span.toSeconds)) transport.setLooping(false);
    deck?.play(seconds);
  },

  flip: () => transport.setSide(getState().side === 'reference' ? 'patch' : 'reference'),

  setSide(side: Side) {
    setState({ side });
    getState().deck?.setSide(side);
  },

  setLooping(looping: boolean) {
    setState({ looping });
    applyLoop();
  },

  setSpan(span: Span | null) {
    setState({ span });
    applyLoop();
  },

  setEqualLoudness(equalLoudness: boolean) {
    setState({ equalLoudness });
    applyGains();
  },

  setLoudnessMatch(loudnessMatchDb: number | null) {
    setState({ loudnessMatchDb });
    applyGains();
  },

  setAsLoud(isAsLoud: boolean) {
    setState({ isAsLoud });
    applyGains();
  },

  running: () => setState({ isRunning: getState().deck?.isRunning ?? false }),

  ended: () => setState({ playing: false, cursorSeconds: 0 }),
};

function applyLoop(): void {
  const { deck, looping, span } = getState();
  deck?.setLoop(looping ? span : null);
}

/** The louder of the two is turned down, so that matching never clips. */
function applyGains(): void {
  const { deck, equalLoudness, loudnessMatchDb, isAsLoud } = getState();
  const match = equalLoudness && !isAsLoud ? (loudnessMatchDb ?? 0) : 0;
  const gain = (levelDb: number) => 10 ** (levelDb / 20);
  deck?.setGains(gain(Math.min(0, -match)), gain(Math.min(0, match)));
}

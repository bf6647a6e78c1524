export const RATE = 44100;
export const rngOf = (seed: number) => () => {
  seed |= 0;
  seed = (seed + 0x6d2b79f5) | 0;
  let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
};
type F = (t: number) => number;
export const make = (s: number, f: F) => Float64Array.from({ length: Math.round(s * RATE) }, (_, i) => f(i / RATE));
const poly = (p: number, dt: number) =>
  p < dt ? ((p /= dt), p + p - p * p - 1) : p > 1 - dt ? ((p = (p - 1) / dt), p * p + p + p + 1) : 0;
export const saw = (s: number, hz: F, ph = 0) => {
  let p = ph;
  const o = make(s, () => 0);
  for (let i = 0; i < o.length; i++) {
    const d = hz(i / RATE) / RATE;
    p += d;
    p -= Math.floor(p);
    o[i] = 2 * p - 1 - poly(p, d);
  }
  return o;
};
export const pulse = (s: number, hz: F, w: F, ph = 0) => {
  let p = ph;
  const o = make(s, () => 0);
  for (let i = 0; i < o.length; i++) {
    const d = hz(i / RATE) / RATE;
    p += d;
    p -= Math.floor(p);
    let q = p + w(i / RATE);
    q -= Math.floor(q);
    o[i] = 2 * p - 1 - poly(p, d) - (2 * q - 1 - poly(q, d));
  }
  return o;
};
export const sine = (s: number, hz: F, ph = 0) => {
  let p = ph;
  const o = make(s, () => 0);
  for (let i = 0; i < o.length; i++) {
    p += hz(i / RATE) / RATE;
    o[i] = Math.sin(2 * Math.PI * p);
  }
  return o;
};
export const svf = (
  x: Float64Array,
  fc: F,
  q: number,
  out: 'lp' | 'bp' | 'hp' | 'notch' = 'lp',
  twice = false,
): Float64Array => {
  let a = 0,
    b = 0;
  const o = new Float64Array(x.length);
  for (let i = 0; i < x.length; i++) {
    const g = Math.tan((Math.PI * Math.min(20000, fc(i / RATE))) / RATE),
      k = 1 / q;
    const h = (x[i] - (g + k) * a - b) / (1 + g * (g + k));
    const bp = g * h + a,
      lp = g * bp + b;
    a = g * h + bp;
    b = g * bp + lp;
    o[i] = out === 'lp' ? lp : out === 'bp' ? bp : out === 'hp' ? h : h + lp;
  }
  return twice ? svf(o, fc, 0.7, out) : o;
};
export const add = (...xs: Float64Array[]) => xs[0].map((_, i) => xs.reduce((s, x) => s + x[i], 0));
export const mul = (x: Float64Array, f: F | number) => x.map((v, i) => v * (typeof f === 'number' ? f : f(i / RATE)));
export const env = (a: number, d: number, s: number, off: number, r: number): F => {
  const at = (t: number) => (t < a ? t / a : s + (1 - s) * Math.exp((-3 * (t - a)) / d));
  return (t) => (t < 0 ? 0 : t < off ? at(t) : at(off) * Math.exp((-5 * (t - off)) / r));
};
export const drive = (x: Float64Array, g: number, f = Math.tanh) => x.map((v) => f(g * v));
export const late = (x: Float64Array, s: number) => {
  const n = Math.round(s * RATE);
  return x.map((_, i) => (i >= n ? x[i - n] : 0));
};
export const out = (...ch: Float64Array[]) => {
  const top = Math.max(...ch.map((c) => c.reduce((m, v) => Math.max(m, Math.abs(v)), 0)));
  return { channels: ch.map((c) => Float32Array.from(c, (v) => (0.5 * v) / top)), sampleRateHz: RATE };
};
export const hz = (m: number) => 440 * 2 ** ((m - 69) / 12);
export const tones: Record<string, (r: () => number) => ReturnType<typeof out>> = {
  'sub and falling saw': (r) => {
    const f = hz(30 + Math.floor(10 * r()));
    return out(
      mul(
        add(
          mul(
            sine(1.2, () => f),
            0.8,
          ),
          mul(
            svf(
              saw(1.2, () => f),
              (t) => 300 + 1500 * Math.exp(-6 * t),
              1.5,
            ),
            0.6,
          ),
        ),
        env(0.004, 0.8, 0.6, 0.95, 0.08),
      ),
    );
  },
  'sub, saw and bite': (r) => {
    const f = hz(30 + Math.floor(10 * r()));
    return out(
      mul(
        add(
          mul(
            sine(1.2, () => f),
            0.8,
          ),
          mul(
            svf(
              saw(1.2, () => f),
              (t) => 300 + 1500 * Math.exp(-6 * t),
              1.5,
            ),
            0.6,
          ),
          mul(
            svf(
              pulse(
                1.2,
                () => 2 * f,
                () => 0.25,
              ),
              () => 1800,
              1,
            ),
            0.25,
          ),
        ),
        env(0.004, 0.8, 0.6, 0.95, 0.08),
      ),
    );
  },
  'four-layer bass': (r) => {
    const f = hz(30 + Math.floor(10 * r()));
    const x = add(
      mul(
        sine(1.2, () => f),
        0.8,
      ),
      mul(
        svf(
          saw(1.2, () => f),
          (t) => 300 + 1500 * Math.exp(-6 * t),
          1.5,
        ),
        0.6,
      ),
      mul(
        svf(
          pulse(
            1.2,
            () => 2 * f,
            () => 0.25,
          ),
          () => 1800,
          1,
        ),
        0.25,
      ),
      mul(
        make(1.2, () => r() - 0.5),
        (t) => 0.3 * Math.exp(-40 * t),
      ),
    );
    return out(mul(x, env(0.004, 0.8, 0.6, 0.95, 0.08)));
  },
  'supersaw ping-pong': (r) => {
    const f = hz(57 + Math.floor(10 * r()));
    const sd = (k: number) =>
      mul(
        svf(
          add(...Array.from({ length: 5 }, (_, i) => saw(2.2, () => f * 2 ** (((i - 2) * 6 + k) / 1200), r()))),
          () => 5000,
          0.8,
        ),
        env(0.02, 1, 0.8, 1, 0.15),
      );
    const [l, rr] = [sd(0), sd(2)];
    const d = 0.3;
    return out(add(l, mul(late(rr, d), 0.4), mul(late(l, 2 * d), 0.16)), add(rr, mul(late(l, 2 * d), 0.2)));
  },
  'supersaw plain': (r) => {
    const f = hz(57 + Math.floor(10 * r()));
    const sd = (k: number) =>
      mul(
        svf(
          add(...Array.from({ length: 5 }, (_, i) => saw(2.2, () => f * 2 ** (((i - 2) * 6 + k) / 1200), r()))),
          () => 5000,
          0.8,
        ),
        env(0.02, 1, 0.8, 1.7, 0.15),
      );
    return out(sd(0), sd(2));
  },
};

import { RATE, rngOf, make, saw, pulse, sine, svf, add, mul, env, drive, late, out, hz } from './zzown.mts';
export { rngOf };
const room = (x: Float64Array, rt: number, wet: number, rnd: () => number) => {
  const o = x.slice();
  for (let k = 0; k < 900; k++) {
    const t = 0.004 + rt * rnd(),
      g = wet * 0.1 * (rnd() < 0.5 ? -1 : 1) * 10 ** ((-3 * t) / rt),
      n = Math.round(t * RATE);
    for (let i = n; i < x.length; i++) o[i] += g * x[i - n];
  }
  return o;
};
const clip = (v: number) => Math.max(-1, Math.min(1, v));
const ph = (s: number, f: (t: number) => number) => {
  let p = 0;
  return make(s, () => 0).map((_, i) => (p += f(i / RATE) / RATE));
};
const T = 2 * Math.PI;
type R = () => number;
const u = (r: R, a: number, b: number) => a + (b - a) * r();
const eu = (r: R, a: number, b: number) => a * (b / a) ** r();
export const tones: Record<string, (r: R) => ReturnType<typeof out>> = {
  'acid hard': (r) => {
    const f = hz(Math.floor(u(r, 33, 46))),
      b = eu(r, 200, 500),
      o = u(r, 2, 4),
      d = u(r, 0.08, 0.3),
      q = u(r, 4, 10);
    return out(
      mul(
        drive(
          svf(
            pulse(
              1,
              () => f,
              () => 0.5,
            ),
            (t) => b * 2 ** (o * Math.exp(-t / d)),
            q,
          ),
          u(r, 1, 3),
          clip,
        ),
        env(0.002, 2, 0.6, 0.7, 0.04),
      ),
    );
  },
  growl: (r) => {
    const f = hz(Math.floor(u(r, 28, 38))),
      d = u(r, 0.2, 0.5);
    const x = add(...[-8, 8].map((c) => saw(1.4, () => f * 2 ** (c / 1200), r())));
    const hp = svf(x, (t) => 80 + 500 * Math.exp(-t / d), 0.8, 'hp');
    return out(
      mul(
        drive(
          svf(hp, (t) => 2500 - 1900 * Math.exp(-t / d), 1.5, 'notch'),
          2,
        ),
        env(0.01, 1, 0.8, 1.1, 0.08),
      ),
    );
  },
  'fm bass': (r) => {
    const f = hz(Math.floor(u(r, 30, 42))),
      ix = u(r, 2, 6),
      d = u(r, 0.1, 0.4);
    return out(
      mul(
        make(1.2, (t) => Math.sin(T * f * t + (0.4 + ix * Math.exp(-t / d)) * Math.sin(T * f * t))),
        env(0.003, 1, 0.5, 0.9, 0.06),
      ),
    );
  },
  'organ bass': (r) => {
    const f = hz(Math.floor(u(r, 36, 48)));
    const g = [1, u(r, 0.3, 1), u(r, 0.1, 0.6), u(r, 0, 0.3)];
    return out(
      mul(
        drive(
          add(
            ...g.map((a, i) =>
              mul(
                sine(1, () => f * (i + 1), r()),
                a,
              ),
            ),
          ),
          1.3,
        ),
        env(0.002, 1, 0.9, 0.7, 0.05),
      ),
    );
  },
  reese: (r) => {
    const f = hz(Math.floor(u(r, 28, 38))),
      c = u(r, 10, 25),
      l = u(r, 0.5, 2);
    const x = add(
      saw(2, () => f * 2 ** (c / 1200), r()),
      saw(2, () => f * 2 ** (-c / 1200), r()),
    );
    return out(
      mul(
        drive(
          svf(x, (t) => 600 * 2 ** (0.8 * Math.sin(T * l * t)), 1.2),
          1.5,
        ),
        env(0.01, 1, 1, 1.7, 0.1),
      ),
    );
  },
  'supersaw room': (r) => {
    const f = hz(Math.floor(u(r, 55, 67)));
    const side = () =>
      mul(
        svf(
          add(...[-14, -9, -4, 0, 5, 10, 13].map((c) => saw(2.4, () => f * 2 ** (c / 1200), r()))),
          () => 250,
          0.7,
          'hp',
        ),
        env(0.01, 1, 0.85, 1.4, 0.15),
      );
    const rt = u(r, 0.8, 2);
    return out(room(side(), rt, 0.6, r), room(side(), rt, 0.6, r));
  },
  'pluck with click': (r) => {
    const f = hz(Math.floor(u(r, 48, 64))),
      d = u(r, 0.06, 0.2),
      dl = u(r, 0.2, 0.35);
    const x = mul(
      add(
        svf(
          saw(1.6, () => f),
          (t) => 300 + 7000 * Math.exp(-t / d),
          1.5,
        ),
        mul(
          make(1.6, () => r() - 0.5),
          (t) => 0.6 * Math.exp(-t / 0.008),
        ),
      ),
      env(0.001, u(r, 0.5, 1.2), 0, 1.2, 0.1),
    );
    return out(add(x, mul(late(x, dl), 0.35), mul(late(x, 2 * dl), 0.12)));
  },
  'slow pad': (r) => {
    const f = hz(Math.floor(u(r, 45, 57)));
    const v = (c: number, o: number) => saw(4, () => f * 2 ** (c / 1200 + o), r());
    const side = () =>
      mul(
        svf(add(v(-7, 0), v(6, 0), mul(v(0, 1), 0.5)), (t) => 400 + 1800 * (1 - Math.exp(-t / 1)), 0.8),
        env(0.7, 2, 0.8, 3, 0.6),
      );
    return out(room(side(), 1.8, 0.5, r), room(side(), 1.8, 0.5, r));
  },
  hoover: (r) => {
    const f = hz(Math.floor(u(r, 43, 55)));
    const g = (t: number) => f * 2 ** ((-5 * Math.exp(-t / 0.06)) / 12);
    return out(
      mul(
        add(
          pulse(1.6, g, (t) => 0.3 + 0.18 * Math.sin(T * 1.3 * t)),
          saw(1.6, (t) => g(t) / 2, 0.2),
          mul(
            pulse(
              1.6,
              (t) => g(t) / 4,
              () => 0.5,
            ),
            0.6,
          ),
        ),
        env(0.01, 1, 0.9, 1.3, 0.1),
      ),
    );
  },
  'metal bell': (r) => {
    const f = hz(Math.floor(u(r, 57, 76))),
      m = u(r, 1.3, 3.7),
      ix = u(r, 1.5, 4),
      d = u(r, 0.2, 0.8);
    return out(
      make(2, (t) => Math.exp(-t / 0.5) * Math.sin(T * f * t + ix * Math.exp(-t / d) * Math.sin(T * f * m * t))),
    );
  },
  boom: (r) => {
    const f = hz(Math.floor(u(r, 24, 34))),
      tau = u(r, 0.01, 0.04),
      o = u(r, 12, 36);
    const p = ph(1.4, (t) => f * 2 ** ((o * Math.exp(-t / tau)) / 12));
    return out(
      mul(
        drive(
          mul(
            p.map((v) => Math.sin(T * v)),
            (t) => Math.exp(-t / 0.5),
          ),
          u(r, 1.5, 4),
        ),
        env(0.002, 9, 1, 1.2, 0.05),
      ),
    );
  },
  talking: (r) => {
    const f = hz(Math.floor(u(r, 33, 45))),
      x = saw(1.5, () => f),
      d = u(r, 0.3, 0.6);
    const k = (t: number) => 1 - Math.exp(-t / d);
    return out(
      mul(
        add(
          mul(
            svf(x, (t) => 300 * (750 / 300) ** k(t), 8, 'bp'),
            0.15,
          ),
          mul(
            svf(x, (t) => 2200 * (1100 / 2200) ** k(t), 10, 'bp'),
            0.1,
          ),
          mul(
            svf(x, () => 250, 0.7),
            0.3,
          ),
        ),
        env(0.01, 1, 0.9, 1.2, 0.08),
      ),
    );
  },
  'shape fade': (r) => {
    const f = hz(Math.floor(u(r, 40, 55))),
      d = u(r, 0.3, 0.8),
      a = saw(1.6, () => f),
      b = pulse(
        1.6,
        () => f,
        () => 0.5,
      );
    return out(
      mul(
        svf(
          add(
            mul(a, (t) => Math.exp(-t / d)),
            mul(b, (t) => 1 - Math.exp(-t / d)),
          ),
          () => eu(r, 2000, 2001),
          0.8,
        ),
        env(0.01, 1, 0.9, 1.3, 0.1),
      ),
    );
  },
  fifth: (r) => {
    const f = hz(Math.floor(u(r, 40, 52))),
      d = u(r, 0.1, 0.3);
    return out(
      mul(
        svf(
          add(
            saw(1.2, () => f),
            mul(
              pulse(
                1.2,
                () => f * 1.4983,
                () => 0.5,
                r(),
              ),
              0.6,
            ),
          ),
          (t) => 500 + 4000 * Math.exp(-t / d),
          1.2,
        ),
        env(0.004, 0.8, 0.4, 0.9, 0.1),
      ),
    );
  },
  sync: (r) => {
    const f = hz(Math.floor(u(r, 45, 57))),
      a = u(r, 2, 4),
      d = u(r, 0.2, 0.6);
    let p = 0,
      q = 0;
    const x = make(1.4, (t) => {
      let s = 0;
      for (let k = 0; k < 8; k++) {
        p += f / RATE / 8;
        q += (f * (1.2 + a * Math.exp(-t / d))) / RATE / 8;
        if (p >= 1) {
          p -= 1;
          q = 0;
        }
        s += 2 * (q - Math.floor(q)) - 1;
      }
      return s / 8;
    });
    return out(
      mul(
        svf(x, () => 6000, 0.7),
        env(0.004, 1, 0.8, 1.1, 0.08),
      ),
    );
  },
  wobble: (r) => {
    const f = hz(Math.floor(u(r, 28, 38))),
      l = u(r, 2, 5);
    return out(
      mul(
        drive(
          svf(
            add(
              saw(2.2, () => f),
              mul(
                pulse(
                  2.2,
                  () => f,
                  () => 0.5,
                ),
                0.7,
              ),
            ),
            (t) => 250 * 2 ** (3 * (0.5 - 0.5 * Math.cos(T * l * t))),
            2.5,
          ),
          1.5,
        ),
        env(0.005, 1, 1, 2, 0.06),
      ),
    );
  },
  brass: (r) => {
    const f = hz(Math.floor(u(r, 48, 60)));
    const g = (t: number) => f * 2 ** ((0.15 * Math.min(1, Math.max(0, t - 0.5)) * Math.sin(T * 5.5 * t)) / 12);
    return out(
      mul(
        svf(
          add(
            saw(2, (t) => g(t) * 2 ** (4 / 1200), r()),
            saw(2, (t) => g(t) * 2 ** (-4 / 1200), r()),
          ),
          (t) => 400 + 3500 * (1 - Math.exp(-t / 0.06)) * (0.5 + 0.5 * Math.exp(-t / 0.3)),
          1,
        ),
        env(0.04, 0.5, 0.8, 1.6, 0.15),
      ),
    );
  },
  'hollow keys': (r) => {
    const f = hz(Math.floor(u(r, 52, 70)));
    return out(
      mul(
        add(
          sine(1.4, () => f),
          mul(
            sine(1.4, () => 2 * f),
            (t) => 0.4 * Math.exp(-t / 0.15),
          ),
          mul(
            make(1.4, (t) => Math.sin(T * 14 * f * t)),
            (t) => 0.15 * Math.exp(-t / 0.04),
          ),
        ),
        env(0.002, 1.2, 0, 1, 0.1),
      ),
    );
  },
};

import { type BandKind, bandTitles, cutSlopes } from '@imprint/core/parameters/effects/choices';
import type { EffectOf } from '@imprint/core/patch/words/effects';
import type { SetFields } from './EffectChoices';

/** What each band is; its numbers are rulers as everything else. */
export function EqualizerBands({ effect, set }: { effect: EffectOf<'equalizer'>; set: SetFields }) {
  const change = (index: number, fields: Partial<(typeof effect.bands)[number]>) =>
    set({ bands: effect.bands.map((band, i) => (i === index ? { ...band, ...fields } : band)) });
  return (
    <div className="grid grid-cols-4 gap-x-4 gap-y-1 py-1" role="group" aria-label="Bands">
      {effect.bands.map(({ kind, slopeDbPerOctave }, index) => (
        <div key={index} className="flex items-center gap-1">
          <span className="figures w-4 text-soft">{index + 1}</span>
          <select
            className="select select-xs min-w-0 grow pr-4 pl-2"
            aria-label={`Band ${index + 1}`}
            value={kind}
            onChange={({ target }) => change(index, { kind: target.value as BandKind })}
          >
            {Object.entries(bandTitles).map(([name, title]) => (
              <option key={name} value={name}>
                {title}
              </option>
            ))}
          </select>
          {(kind === 'lowCut' || kind === 'highCut') && (
            <select
              className="select select-xs w-[50px] shrink-0 pr-4 pl-1"
              aria-label={`Slope of band ${index + 1}`}
              title="dB per octave"
              value={slopeDbPerOctave}
              onChange={({ target }) =>
                change(index, { slopeDbPerOctave: Number(target.value) as (typeof cutSlopes)[number] })
              }
            >
              {cutSlopes.map((slope) => (
                <option key={slope} value={slope}>
                  {slope}
                </option>
              ))}
            </select>
          )}
        </div>
      ))}
    </div>
  );
}

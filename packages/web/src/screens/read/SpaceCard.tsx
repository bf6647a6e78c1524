import { formatValue } from '@imprint/core/parameters/format';
import type { Reading } from '@imprint/core/reading/schema';
import { TraitCard } from './TraitCard';

export function SpaceCard({ reading }: { reading: Reading }) {
  const { rt60Seconds, preDelaySeconds, roomDb, echo, confidence } = reading.traits.space;
  const time = echo && `${formatValue(echo.seconds, 's')}${echo.division ? ` (${echo.division})` : ''}`;
  const begins = preDelaySeconds === null ? '' : `, ${formatValue(preDelaySeconds, 's')} behind the tone`;
  return (
    <TraitCard
      title="Space"
      confidence={confidence}
      doubt={reading.doubts.space}
      evidence={{ wanted: { kind: 'tail' }, label: 'The tail' }}
      headline={
        time
          ? `echo every ${time}`
          : rt60Seconds !== null
            ? `a room of ${formatValue(rt60Seconds, 's')}`
            : confidence > 0.5
              ? 'dry'
              : 'cannot be told'
      }
      meaning={
        time
          ? `A delay of ${time} whose feedback keeps ${Math.round(100 * echo.feedback)} %${echo.changesSides ? ', from either side by turns' : ''}.`
          : rt60Seconds !== null
            ? `A reverb that needs ${formatValue(rt60Seconds, 's')} to fall by 60 dB${begins}; its partials fluctuate, as no release does.`
            : confidence > 0.5
              ? 'The tone falls as smoothly as a release does; nothing repeats.'
              : 'Space is heard after a note has ended: leave some of its tail in the cut.'
      }
      values={[
        { label: 'RT60', value: rt60Seconds === null ? null : formatValue(rt60Seconds, 's'), overrule: 'rt60Seconds' },
        {
          label: 'Pre-delay',
          value: preDelaySeconds === null ? null : formatValue(preDelaySeconds, 's'),
          overrule: 'preDelaySeconds',
        },
        { label: 'Room level', value: roomDb === null ? null : formatValue(roomDb, 'dB') },
        { label: 'Echo', value: time, overrule: 'echoSeconds' },
        { label: 'First repeat', value: echo && formatValue(echo.levelDb, 'dB') },
        { label: 'Feedback', value: echo && `${Math.round(100 * echo.feedback)} %` },
      ]}
    />
  );
}

import { useMutation } from '@tanstack/react-query';
import { toast } from 'sonner';
import type { Gap } from '@imprint/core/matching/gaps';
import { phraseOf } from '@imprint/core/matching/phrase';
import { formatValue } from '@imprint/core/parameters/format';
import type { Unit } from '@imprint/core/parameters/parameter';
import type { ChainOwner } from '@imprint/core/patch/edits/chains';
import type { Effect } from '@imprint/core/patch/schema';
import type { Reading } from '@imprint/core/reading/schema';
import { usePatchStore } from '../../../stores/patchStore';
import { toneApi } from '../../../stores/threads';
import { progress } from '../../../workers/workers';

const SHOWN = 6;

/**
 * What an effect does, told by the traits that change when it is off: asked for, since two prints have to be
 * made and measured.
 */
export function EffectOutcome({ owner, effect, reading }: { owner: ChainOwner; effect: Effect; reading: Reading }) {
  const patch = usePatchStore((state) => state.patch)!;
  const ask = useMutation({
    mutationFn: async () => ({
      patch,
      traits: await toneApi().effectOutcome(
        patch,
        owner,
        effect.id,
        phraseOf(reading),
        reading,
        progress(() => {}),
      ),
    }),
    onError: (error) => toast.error(error.message),
  });
  return (
    <>
      <button
        type="button"
        className="btn btn-xs btn-outline font-normal"
        disabled={ask.isPending || reading.notes.length === 0}
        title="Prints the patch over the cut with it and without it, and tells the traits that change"
        onClick={() => ask.mutate()}
      >
        {ask.isPending ? 'Printing and measuring …' : 'What does it do?'}
      </button>
      {ask.data && (
        <div className="basis-full" role="group" aria-label="What it does">
          <Outcome traits={ask.data.traits} stale={ask.data.patch !== patch} />
        </div>
      )}
    </>
  );
}

function Outcome({ traits, stale }: { traits: readonly Gap[]; stale: boolean }) {
  if (traits.length === 0) return <p>Nothing over this cut that can be told apart.</p>;
  return (
    <ul
      className={`grid grid-cols-2 gap-x-6 ${stale ? 'text-soft' : ''}`}
      title={stale ? 'Before the last change' : undefined}
    >
      {traits.slice(0, SHOWN).map(({ trait, label, reference, proof, unit, gapJnd }) => (
        <li key={trait} className="flex justify-between gap-2">
          <span className="truncate">{label}</span>
          <span className="figures shrink-0">
            {reference === null || proof === null
              ? `${gapJnd.toFixed(1)} JND`
              : `${formatValue(reference, unit as Unit)} → ${formatValue(proof, unit as Unit)}`}
          </span>
        </li>
      ))}
    </ul>
  );
}

import { effects } from '@imprint/core/parameters/effects/index';
import { type ChainOwner, chainOf } from '@imprint/core/patch/edits/chains';
import type { Effect, Layer } from '@imprint/core/patch/schema';
import { chainTitles, layerTitles } from '@imprint/core/patch/words/words';
import { hiddenOfEffect } from '@imprint/core/patch/words/effects';
import type { Reading } from '@imprint/core/reading/schema';
import { editEffect, usePatchStore } from '../../../stores/patchStore';
import { Editor } from '../editor/Editor';
import { EffectChoices, type SetFields } from './EffectChoices';
import { EffectDrawing } from './EffectDrawing';
import { EffectOutcome } from './EffectOutcome';
import { EffectPicture } from './EffectPicture';
import { EqualizerShape } from './EqualizerShape';
import { GainStage } from './GainStage';
import { ThresholdShape } from './ThresholdShape';
import { Rulers } from '../editor/Rulers';
import { measuredEffect } from '../editor/measured';

interface EffectEditorProps {
  layer: Layer;
  owner: ChainOwner;
  effect: Effect;
  reading: Reading;
}

/**
 * One effect of a chain: what it does as a picture and to the traits, its levels, its choices, its rulers.
 */
export function EffectEditor({ layer, owner, effect, reading }: EffectEditorProps) {
  const routes = usePatchStore(({ patch }) => patch!.routes);
  const patch = usePatchStore((state) => state.patch)!;
  const titles = owner.of === 'layer' ? layerTitles(layer, patch) : chainTitles(chainOf(patch, owner));
  const set: SetFields = (fields) => editEffect(owner, effect.id, fields);
  return (
    <Editor
      title={titles.get(effect.id)!}
      named={{ name: effect.name, onName: (name) => set({ name }) }}
      note={`${effects[effect.kind].purpose}${places[owner.of]}`}
      action={<EffectChoices owner={owner} effect={effect} set={set} />}
    >
      <Picture effect={effect} set={set} />
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 pb-1">
        <GainStage owner={owner} effect={effect} set={set} />
        <EffectOutcome owner={owner} effect={effect} reading={reading} />
      </div>
      <EffectDrawing effect={effect} set={set} />
      <Rulers
        layer={layer}
        moduleId={effect.id}
        kind={effect.kind}
        values={effect}
        measured={measuredEffect(reading, effect.kind)}
        hidden={hiddenOfEffect(effect)}
        sharedRoutes={owner.of === 'layer' ? undefined : routes}
        onChange={set}
      />
    </Editor>
  );
}

/** What it does, drawn; of some kinds with handles on it. */
function Picture({ effect, set }: { effect: Effect; set: SetFields }) {
  switch (effect.kind) {
    case 'equalizer':
      return <EqualizerShape effect={effect} set={set} />;
    case 'compressor':
    case 'limiter':
      return <ThresholdShape effect={effect} set={set} />;
    default:
      return <EffectPicture effect={effect} />;
  }
}

const places: Record<ChainOwner['of'], string> = { layer: '', group: '; on its group', patch: '; on all layers' };

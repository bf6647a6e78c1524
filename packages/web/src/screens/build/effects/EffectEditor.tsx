import { effects } from '@imprint/core/parameters/effects/index';
import { type ChainOwner, chainOf } from '@imprint/core/patch/chains';
import type { Effect, Layer } from '@imprint/core/patch/schema';
import { chainTitles, layerTitles } from '@imprint/core/patch/words';
import { hiddenOfEffect } from '@imprint/core/patch/effects';
import type { Reading } from '@imprint/core/reading/schema';
import { editEffect, usePatchStore } from '../../../stores/patchStore';
import { Editor } from '../editor/Editor';
import { EffectChoices, type SetFields } from './EffectChoices';
import { EffectDrawing } from './EffectDrawing';
import { EffectOutcome } from './EffectOutcome';
import { EffectPicture } from './EffectPicture';
import { EqualizerShape } from './EqualizerShape';
import { GainStage } from './GainStage';
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
      {effect.kind === 'equalizer' ? <EqualizerShape effect={effect} set={set} /> : <EffectPicture effect={effect} />}
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

const places: Record<ChainOwner['of'], string> = { layer: '', group: '; on its group', patch: '; on all layers' };

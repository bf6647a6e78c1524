import { chainOf, ownerOf } from '@imprint/core/patch/edits/chains';
import { moduleTitle } from '@imprint/core/patch/words/words';
import type { Interaction, Layer } from '@imprint/core/patch/schema';
import type { Reading } from '@imprint/core/reading/schema';
import { editModule, usePatchStore } from '../../../stores/patchStore';
import { Choice, Editor } from './Editor';
import { EffectEditor } from '../effects/EffectEditor';
import { LayerEditor, VoiceEditor } from './LayerEditor';
import { AmpEditor, MacroEditor, ModulatorEditor } from '../movement/ModulatorEditor';
import { Offer } from './Offer';
import { Rulers } from './Rulers';
import { followingNote, rightFor } from './fixedTuning';
import { FilterEditor, ShaperEditor } from './ShapingEditor';
import { SourceEditor } from '../sources/SourceEditor';
import { VOICE, useSelection } from '../../../stores/selectionStore';

/** The editor of the chosen element; of the first filter when that is gone. */
export function ModuleEditor({ layer, reading }: { layer: Layer; reading: Reading }) {
  const moduleId = useSelection((selection) => selection.moduleId);
  const patch = usePatchStore((state) => state.patch)!;
  const isChosen = ({ id }: { id: string }) => id === moduleId;
  const source = layer.sources.find(isChosen);
  if (source) return <SourceEditor key={source.id} layer={layer} source={source} reading={reading} />;
  const interaction = layer.interactions.find(isChosen);
  if (interaction) return <InteractionEditor layer={layer} interaction={interaction} reading={reading} />;
  const modulator = layer.modulators.find(isChosen);
  if (modulator) return <ModulatorEditor layer={layer} modulator={modulator} />;
  const macro = patch.macros.find(isChosen);
  if (macro) return <MacroEditor layer={layer} macro={macro} />;
  const owner = ownerOf(patch, layer, moduleId);
  const effect = owner && chainOf(patch, owner).find(isChosen);
  if (owner && effect)
    return <EffectEditor key={effect.id} layer={layer} owner={owner} effect={effect} reading={reading} />;
  if (moduleId === layer.amp.id) return <AmpEditor layer={layer} reading={reading} />;
  if (moduleId === layer.shaper.id) return <ShaperEditor layer={layer} shaper={layer.shaper} />;
  if (moduleId === VOICE) return <VoiceEditor layer={layer} />;
  if (moduleId === layer.id) return <LayerEditor layer={layer} />;
  return <FilterEditor layer={layer} filter={layer.filters.find(isChosen) ?? layer.filters[0]} reading={reading} />;
}

const notes: Record<Interaction['kind'], string> = {
  fm: 'linear, through zero; the modulator’s own level does not count',
  ring: 'multiplies one by the other',
  ringTone: 'multiplies the source by a sine of its own',
};

function InteractionEditor({
  layer,
  interaction,
  reading,
}: {
  layer: Layer;
  interaction: Interaction;
  reading: Reading;
}) {
  const patch = usePatchStore((state) => state.patch)!;
  return (
    <Editor
      title={moduleTitle(layer, interaction.id, patch)}
      note={notes[interaction.kind]}
      action={
        interaction.kind === 'ringTone' && (
          <Choice
            label="Tone"
            value={interaction.tuning}
            titles={{ fixed: 'of a fixed frequency', ratio: 'of a ratio to the note' }}
            className="w-44"
            onChange={(tuning) => editModule(layer.id, interaction.id, { tuning })}
          />
        )
      }
    >
      <Rulers
        layer={layer}
        moduleId={interaction.id}
        kind={interaction.kind}
        values={interaction}
        hidden={interaction.kind === 'ringTone' ? [interaction.tuning === 'fixed' ? 'toneRatio' : 'toneHz'] : []}
      />
      {interaction.kind === 'ringTone' && interaction.tuning === 'fixed' && (
        <Offer
          said={rightFor(interaction.toneHz)}
          offer="Follow the note instead"
          onTake={() => {
            const { tuning, ratio: toneRatio } = followingNote(interaction.toneHz, reading);
            editModule(layer.id, interaction.id, { tuning, toneRatio });
          }}
        />
      )}
    </Editor>
  );
}

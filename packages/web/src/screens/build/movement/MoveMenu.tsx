import type { Parameter } from '@imprint/core/parameters/parameter';
import { type NewModulator, addModulator, addRoute, setFields } from '@imprint/core/patch/edits/edit';
import { addSharedRoute } from '@imprint/core/patch/edits/chains';
import { PER_UNISON_VOICE, targetOf } from '@imprint/core/patch/modules';
import { noteValues } from '@imprint/core/patch/schemas/modulatorSchema';
import type { Layer } from '@imprint/core/patch/schema';
import { noteValueTitles } from '@imprint/core/patch/words/modulators';
import { ActionMenu } from '../../../components/ActionMenu';
import { addToLayer, addToPatch, usePatchStore } from '../../../stores/patchStore';
import { selectModule } from '../../../stores/selectionStore';

interface MoveMenuProps {
  layer: Layer;
  moduleId: string;
  name: string;
  parameter: Parameter;
}

/**
 * Share of the routing's range that a new route starts with: enough to be heard, little enough to be near.
 */
const FIRST_SHARE = 0.08;
const FIRST_AMOUNT: Partial<Record<string, number>> = { st: 7, dB: -6, ct: 10, octaves: 1, '': 1, s: 0.1 };

const firstAmount = ({ routing }: Parameter) => FIRST_AMOUNT[routing!.unit] ?? FIRST_SHARE * routing!.max;

const named = (list: readonly { id: string; name: string }[]) =>
  Object.fromEntries(list.map(({ id, name: title }) => [`old:${id}`, title]));

/** Lets a macro move a parameter of an effect that several layers share. */
export function SharedMoveMenu({ moduleId, name, parameter }: Omit<MoveMenuProps, 'layer'>) {
  const macros = usePatchStore(({ patch }) => patch!.macros);
  if (macros.length === 0) return null;
  const move = (choice: string) => {
    const from = choice.slice('old:'.length);
    addToPatch((patch) => addSharedRoute(patch, from, { moduleId, parameter: name }, firstAmount(parameter)));
    selectModule(from);
  };
  return (
    <ActionMenu
      label={`Move ${parameter.label}`}
      prompt="move"
      title={`Let a macro move ${parameter.label}`}
      className="select-ghost w-[62px] shrink-0 pr-5 pl-1 text-2xs text-soft"
      groups={[{ title: 'Macros', options: named(macros) }]}
      onPick={move}
    />
  );
}

/** Lets a modulator move a parameter: one that is there, or a new one. */
export function MoveMenu({ layer, moduleId, name, parameter }: MoveMenuProps) {
  const macros = usePatchStore(({ patch }) => patch!.macros);
  const ofSource = layer.sources.some(({ id }) => id === moduleId);
  const offered = noteValues.filter((of) => of !== 'unison' || (ofSource && PER_UNISON_VOICE.has(name)));

  function move(choice: string): void {
    const amount = firstAmount(parameter);
    const target = targetOf(layer, { moduleId, parameter: name });
    const resting = typeof target === 'string' ? undefined : target.resting;
    addToLayer(layer.id, (old) => {
      const [kind, what] = choice.split(':');
      const [withModulator, from] = kind === 'new' ? addModulator(old, what as NewModulator) : [old, what];
      // What lets a source through is shut where nothing opens it: a gate.
      const gate = name === 'letThrough' && resting === parameter.max;
      const rested = gate ? setFields(withModulator, moduleId, { [name]: parameter.min }) : withModulator;
      const [changed] = addRoute(rested, from, { moduleId, parameter: name }, gate ? parameter.max : amount);
      selectModule(from);
      return [changed, from];
    });
  }

  const existing = layer.modulators.filter(
    (modulator) =>
      modulator.id !== moduleId &&
      (modulator.kind !== 'note' || modulator.of !== 'unison' || offered.includes('unison')),
  );
  return (
    <ActionMenu
      label={`Move ${parameter.label}`}
      prompt="move"
      title={`Let something move ${parameter.label}`}
      className="select-ghost w-[62px] shrink-0 pr-5 pl-1 text-2xs text-soft"
      groups={[
        { title: 'With', options: named(existing) },
        { title: 'Macros', options: named(macros) },
        {
          title: 'With a new',
          options: {
            'new:envelope': 'Envelope',
            'new:lfo': 'LFO',
            ...Object.fromEntries(offered.map((of) => [`new:${of}`, noteValueTitles[of]])),
          },
        },
      ]}
      onPick={move}
    />
  );
}

import { type ComponentType, useEffect } from 'react';
import type { Reading, TraitId } from '@imprint/core/reading/schema';
import { NeedsReading } from '../../components/NeedsReading';
import { endEvidence } from '../../stores/evidenceStore';
import { readingOf, useStudyStore } from '../../stores/studyStore';
import { AcrossCard } from './AcrossCard';
import { BrightnessCard } from './BrightnessCard';
import { DirtCard } from './DirtCard';
import { FmCard } from './FmCard';
import { FormantsCard } from './FormantsCard';
import { LayersCard } from './LayersCard';
import { LoudnessCard } from './LoudnessCard';
import { MotionCard } from './MotionCard';
import { NoiseCard } from './NoiseCard';
import { PartialsCard } from './PartialsCard';
import { PitchCard } from './PitchCard';
import { RingCard } from './RingCard';
import { SourcesCard } from './SourcesCard';
import { SpaceCard } from './SpaceCard';
import { UnisonCard } from './UnisonCard';
import { WidthCard } from './WidthCard';

type Card = ComponentType<{ reading: Reading }>;

/** The card of every trait, in the order in which they stand. */
const traitCards = {
  pitch: PitchCard,
  loudness: LoudnessCard,
  brightness: BrightnessCard,
  partials: PartialsCard,
  sources: SourcesCard,
  fm: FmCard,
  ring: RingCard,
  formants: FormantsCard,
  unison: UnisonCard,
  width: WidthCard,
  motion: MotionCard,
  noise: NoiseCard,
  space: SpaceCard,
  dirt: DirtCard,
} satisfies { readonly [T in TraitId]: Card };

/** What few tones have has a card only where it was found. */
const rare: { id: TraitId; name: string; isThere: (traits: Reading['traits']) => boolean }[] = [
  { id: 'fm', name: 'FM', isThere: ({ fm }) => fm.carrierHz !== null },
  { id: 'ring', name: 'ring or amplitude modulation', isThere: ({ ring }) => ring.rateHz !== null },
  { id: 'formants', name: 'formants', isThere: ({ formants }) => formants.peaks.length > 0 },
];

/** Layers are told from several traits, and stand behind the last of them. */
const cards = Object.entries<Card>(traitCards).flatMap(([id, card]): [string, Card][] =>
  id === 'width'
    ? [
        [id, card],
        ['layers', LayersCard],
      ]
    : [[id, card]],
);

/** What was measured of the chosen cut. */
export function ReadScreen() {
  return (
    <NeedsReading>
      <Cards />
    </NeedsReading>
  );
}

function Cards() {
  const reading = useStudyStore(readingOf)!;
  const cutId = useStudyStore((state) => state.cutId);
  // What is heard belongs to one cut, and to this screen.
  useEffect(() => endEvidence, [cutId]);
  const missing = rare.filter(({ isThere }) => !isThere(reading.traits));
  return (
    <div className="grid h-full auto-rows-auto grid-cols-2 content-start overflow-y-auto [container-type:size]">
      {cards
        .filter(([id]) => !missing.some((one) => one.id === id))
        .map(([id, Card]) => (
          // Which partial is heard alone belongs to a cut.
          <Card key={`${id} ${cutId}`} reading={reading} />
        ))}
      <AcrossCard />
      {missing.length > 0 && (
        <p className="col-span-2 p-4 text-soft">
          Looked for and not found: {missing.map(({ name }) => name).join(', ')}.
        </p>
      )}
    </div>
  );
}

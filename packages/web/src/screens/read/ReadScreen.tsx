import { type ComponentType, useEffect } from 'react';
import type { Reading, TraitId } from '@imprint/core/reading/schema';
import { NeedsReading } from '../../components/NeedsReading';
import { endEvidence } from '../../stores/evidenceStore';
import { readingOf, useStudyStore } from '../../stores/studyStore';
import { AcrossCard } from './AcrossCard';
import { BrightnessCard } from './BrightnessCard';
import { DirtCard } from './DirtCard';
import { LayersCard } from './LayersCard';
import { LoudnessCard } from './LoudnessCard';
import { MotionCard } from './MotionCard';
import { NoiseCard } from './NoiseCard';
import { PartialsCard } from './PartialsCard';
import { PitchCard } from './PitchCard';
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
  unison: UnisonCard,
  width: WidthCard,
  motion: MotionCard,
  noise: NoiseCard,
  space: SpaceCard,
  dirt: DirtCard,
} satisfies { readonly [T in TraitId]: Card };

/** Layers are told from several traits, and stand behind the last of them. */
const cards: readonly [string, Card][] = Object.entries<Card>(traitCards).flatMap(([id, card]) =>
  id === 'width'
    ? [[id, card] as [string, Card], ['layers', LayersCard] as [string, Card]]
    : [[id, card] as [string, Card]],
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
  return (
    <div className="grid h-full auto-rows-auto grid-cols-2 content-start overflow-y-auto [container-type:size]">
      {cards.map(([id, Card]) => (
        // Which partial is heard alone belongs to a cut.
        <Card key={`${id} ${cutId}`} reading={reading} />
      ))}
      <AcrossCard />
    </div>
  );
}

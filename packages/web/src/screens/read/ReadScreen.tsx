import { useEffect } from 'react';
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
      <PitchCard reading={reading} />
      <LoudnessCard reading={reading} />
      <BrightnessCard reading={reading} />
      <PartialsCard key={cutId} reading={reading} />
      <UnisonCard reading={reading} />
      <WidthCard reading={reading} />
      <LayersCard reading={reading} />
      <MotionCard reading={reading} />
      <NoiseCard reading={reading} />
      <SpaceCard reading={reading} />
      <DirtCard reading={reading} />
      <AcrossCard />
    </div>
  );
}

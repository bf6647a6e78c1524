import type { Section } from '@imprint/core/reading/piece/sections';
import { useStudyStore } from '../../stores/studyStore';
import { showStretch, useView } from './viewStore';

/** The sections of the piece over the waveform, each with its key; one is looked at with a click. */
export function SectionBand() {
  const sections = useStudyStore((state) => state.sections);
  const { durationSeconds } = useStudyStore((state) => state.study!.reference);
  const { fromSeconds, toSeconds } = useView();
  if (!sections || sections.length < 2) return null;
  const placeOf = (seconds: number) => (100 * (seconds - fromSeconds)) / (toSeconds - fromSeconds);
  return (
    <ol aria-label="Sections" className="hairline-b relative h-6 shrink-0 overflow-hidden">
      {sections
        .filter((section) => section.toSeconds > fromSeconds && section.fromSeconds < toSeconds)
        .map((section) => {
          const left = Math.max(0, placeOf(section.fromSeconds));
          const width = Math.min(100, placeOf(section.toSeconds)) - left;
          return (
            <li
              key={section.fromSeconds}
              className="absolute inset-y-0"
              style={{ left: `${left}%`, width: `${width}%` }}
            >
              <button
                type="button"
                title={`${wordsOf(section)}. Click to look at it.`}
                className="hairline-r flex h-full w-full cursor-pointer items-center gap-2 overflow-hidden px-2 text-left text-2xs whitespace-nowrap hover:bg-base-200"
                onClick={() => showStretch(section.fromSeconds, section.toSeconds, durationSeconds)}
              >
                <span className="font-bold">{section.letter}</span>
                {section.keys.length > 0 && (
                  <span className="text-soft">
                    {section.keys[0].tonic} {section.keys[0].mode}
                  </span>
                )}
              </button>
            </li>
          );
        })}
    </ol>
  );
}

function wordsOf({ letter, fromSeconds, toSeconds, keys }: Section): string {
  const span = `Section ${letter}, ${fromSeconds.toFixed(1)} to ${toSeconds.toFixed(1)} s`;
  const [best, ...others] = keys.map(({ tonic, mode }) => `${tonic} ${mode}`);
  if (!best) return `${span}, without a key`;
  return others.length > 0 ? `${span}: ${best}, or ${others.join(' or ')}` : `${span}: ${best}`;
}

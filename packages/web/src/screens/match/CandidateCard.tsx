import { Ear } from 'lucide-react';
import type { RunCandidate } from '@imprint/contract/runs';
import type { CandidateKind } from '@imprint/core/matching/structure';
import { type PatchPart, patchParts } from '@imprint/core/patch/edits/adoptPart';
import { SpectrumThumbnail } from './SpectrumThumbnail';
import { WouldChange } from './WouldChange';

const titles: Readonly<Record<CandidateKind, string>> = {
  plain: 'Plain patch',
  copy: 'Copy',
  mixed: 'Mixture',
};
const meanings: Readonly<Record<CandidateKind, string>> = {
  plain: 'ordinary parts only',
  copy: 'a wavetable taken from the cut',
  mixed: 'ordinary parts around a wavetable from the cut',
};
const SHOWN_REASONS = 3;

interface CandidateCardProps {
  candidate: RunCandidate;
  /** Whether it is the study's own patch with other values. */
  isOwn: boolean;
  isRecommended: boolean;
  isHeard: boolean;
  /** What of it is looked at for taking over. */
  part: PatchPart | 'all';
  onPart: (part: PatchPart | 'all') => void;
  onHear: () => void;
  onUse: (part: PatchPart | 'all') => void;
}

/** One candidate: its spectrum beside the cut's, how far it is and why, and what using it would change. */
export function CandidateCard({
  candidate,
  isOwn,
  isRecommended,
  isHeard,
  part,
  onPart,
  onHear,
  onUse,
}: CandidateCardProps) {
  const { kind, overallJnd, settings, why, picture } = candidate;
  const title = isOwn ? 'The patch, turned' : titles[kind];
  return (
    <li
      className={`hairline-b flex gap-4 border-l-[3px] py-3 pl-3 ${isHeard ? 'border-l-patch' : 'border-l-transparent'}`}
    >
      <SpectrumThumbnail picture={picture} label={`${title}: spectrum, reference filled, patch as a line`} />
      <div className="min-w-0 grow">
        <h3 className="flex items-baseline gap-2">
          <span className="title text-lg">{title}</span>
          <span className="text-soft">{isOwn ? 'its own parts with other values' : meanings[kind]}</span>
          {isRecommended && <span className="border border-base-content px-1 text-2xs">recommended</span>}
        </h3>
        <p>
          <span className="figures font-bold">{overallJnd.toFixed(1)} JND</span>
          <span className="text-soft">
            , <span className="figures">{settings}</span> settings away from the defaults
          </span>
        </p>
        <ul className="mt-1 list-disc space-y-0.5 pl-4 text-soft">
          {why.slice(0, SHOWN_REASONS).map((sentence) => (
            <li key={sentence}>{sentence}</li>
          ))}
        </ul>
        {why.length > SHOWN_REASONS && (
          <details className="text-soft">
            <summary className="cursor-pointer">
              {why.length === SHOWN_REASONS + 1 ? 'One more reason' : `${why.length - SHOWN_REASONS} more reasons`}
            </summary>
            <ul className="list-disc space-y-0.5 pl-4">
              {why.slice(SHOWN_REASONS).map((sentence) => (
                <li key={sentence}>{sentence}</li>
              ))}
            </ul>
          </details>
        )}
        <div className="mt-2 flex flex-wrap items-center gap-2">
          <button
            type="button"
            className={`btn btn-xs ${isHeard ? 'btn-neutral' : 'btn-outline'}`}
            aria-pressed={isHeard}
            onClick={onHear}
          >
            <Ear size={13} /> Hear it
          </button>
          <button type="button" className="btn btn-xs btn-outline" onClick={() => onUse(part)}>
            {part === 'all' ? 'Use it' : `Use its ${part}`}
          </button>
          <select
            className="select select-xs w-auto"
            aria-label={`What of the ${title.toLowerCase()} to use`}
            value={part}
            onChange={({ target }) => onPart(target.value as PatchPart | 'all')}
          >
            <option value="all">whole</option>
            {patchParts.map((value) => (
              <option key={value} value={value}>
                only its {value}
              </option>
            ))}
          </select>
        </div>
        <WouldChange candidate={candidate} part={part} />
      </div>
    </li>
  );
}

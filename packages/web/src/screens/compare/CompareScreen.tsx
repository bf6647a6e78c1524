import type { ComponentType } from 'react';
import { create } from 'zustand';
import { NeedsReading } from '../../components/NeedsReading';
import { BlindTestView } from './BlindTestView';
import { InTheTrack } from './InTheTrack';
import { Parts } from './Parts';
import { Pictures } from './Pictures';

/** Ways of comparing, each a question. */
const views: readonly { title: string; View: ComponentType }[] = [
  { title: 'What differs', View: Pictures },
  { title: 'What each part does', View: Parts },
  { title: 'In the track', View: InTheTrack },
  { title: 'Can you tell them apart?', View: BlindTestView },
];

/** The one that was looked at last, as long as the page is open. */
const useView = create(() => ({ index: 0 }));

/** Reference and patch, seen, taken apart and heard blind. */
export function CompareScreen() {
  const { index } = useView();
  const { View } = views[index];
  return (
    <NeedsReading patch>
      <div className="flex h-full flex-col">
        <div role="group" aria-label="Ways of comparing" className="hairline-b flex shrink-0 gap-6 px-5 py-2">
          {views.map(({ title }, i) => (
            <button
              key={title}
              type="button"
              aria-pressed={i === index}
              className={`cursor-pointer ${i === index ? 'font-bold' : 'text-soft hover:text-base-content'}`}
              onClick={() => useView.setState({ index: i })}
            >
              {title}
            </button>
          ))}
        </div>
        <div className="min-h-0 grow">
          <View />
        </div>
      </div>
    </NeedsReading>
  );
}

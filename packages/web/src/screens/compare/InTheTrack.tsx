import { useEffect } from 'react';
import { Link } from 'react-router';
import { useShortcut } from '../../app/useShortcut';
import { Key } from '../../components/Key';
import { WorkProgress } from '../../components/WorkProgress';
import { hearInTheTrack, hearSide, leaveTheTrack, useInTheTrack } from '../../stores/inTheTrack';
import { cutOf, useStudyStore } from '../../stores/studyStore';

const sides = [
  { heard: 'track', title: 'The track as it is', ink: 'bg-reference' },
  { heard: 'patch', title: 'The patch in its place', ink: 'border-2 border-patch' },
] as const;

/** The tone judged where it belongs: the patch over what isolation leaves out, against the track. */
export function InTheTrack() {
  const cut = useStudyStore(cutOf)!;
  const proof = useStudyStore((state) => state.proof);
  const busy = useStudyStore((state) => state.work !== null);
  const { heard } = useInTheTrack();
  // Another print is another mix.
  useEffect(() => leaveTheTrack, [proof, cut.id]);
  useShortcut('swap', () => heard && hearSide(heard === 'track' ? 'patch' : 'track'), [heard]);
  return (
    <section aria-label="In the track" className="max-w-xl p-6">
      <h2 className="title text-xl">Does it sit in the track?</h2>
      {cut.isolation ? (
        <>
          <p className="mt-2 text-soft">
            What the isolation of “{cut.name}” leaves out is played with the patch in the place of what it keeps, as
            loud as that, against the track itself. Both run on while you change over.
          </p>
          <div className="mt-4 flex items-center gap-3">
            {heard === null ? (
              <button
                type="button"
                className="btn btn-sm btn-neutral"
                disabled={busy || !proof}
                onClick={() => void hearInTheTrack()}
              >
                Play it in the track
              </button>
            ) : (
              <>
                <div role="group" aria-label="What is heard" className="flex border border-base-content">
                  {sides.map(({ heard: own, title, ink }) => (
                    <button
                      key={own}
                      type="button"
                      aria-pressed={heard === own}
                      className={`flex h-8 cursor-pointer items-center gap-2 px-3 ${heard === own ? 'bg-base-content text-base-100' : ''}`}
                      onClick={() => hearSide(own)}
                    >
                      <span className={`inline-block size-[10px] ${ink}`} />
                      {title}
                    </button>
                  ))}
                </div>
                <Key of="swap" />
                <button type="button" className="btn btn-sm btn-ghost font-normal" onClick={leaveTheTrack}>
                  Stop
                </button>
              </>
            )}
          </div>
          <div className="mt-4">
            <WorkProgress />
          </div>
        </>
      ) : (
        <p className="mt-2 text-soft">
          This cut has no isolation, so the tone stands alone in it already. Where other things sound, too,{' '}
          <Link to="../listen" className="underline decoration-dotted underline-offset-2">
            isolate it on Listen
          </Link>
          , and the patch can be heard among them.
        </p>
      )}
    </section>
  );
}

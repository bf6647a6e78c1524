import { ChevronDown, ChevronRight } from 'lucide-react';
import { Fragment, type ReactNode, useState } from 'react';
import { Group, Panel, Separator, useDefaultLayout, usePanelRef } from 'react-resizable-panels';

/** Height of a heading, which is what is left of a folded part. */
const HEADING_PX = 26;

interface Part {
  id: string;
  /** A part with a title has a heading and folds; one without takes what is left. */
  title?: string;
  beside?: ReactNode;
  /** Height at first, without its heading; 0 is folded. */
  startsPx?: number;
  leastPx: number;
  content: ReactNode;
}

/** Parts above one another whose heights are dragged, and that fold; this browser remembers both. */
export function Stack({ id, parts }: { id: string; parts: readonly Part[] }) {
  const { defaultLayout, onLayoutChanged } = useDefaultLayout({ id: `imprint-${id}` });
  return (
    <Group
      orientation="vertical"
      className="min-w-0 grow"
      defaultLayout={defaultLayout}
      onLayoutChanged={onLayoutChanged}
    >
      {parts.map((part, i) => (
        <Fragment key={part.id}>
          {i > 0 && (
            <Separator className="h-px bg-base-300 outline-offset-2 hover:bg-base-content focus:bg-base-content" />
          )}
          {part.title === undefined ? (
            <Panel id={part.id} minSize={part.leastPx}>
              {part.content}
            </Panel>
          ) : (
            <FoldingPart {...part} title={part.title} />
          )}
        </Fragment>
      ))}
    </Group>
  );
}

function FoldingPart({ id, title, beside, startsPx = 0, leastPx, content }: Part & { title: string }) {
  const panel = usePanelRef();
  const [folded, setFolded] = useState(startsPx === 0);
  const Chevron = folded ? ChevronRight : ChevronDown;
  const turn = () => {
    if (!panel.current?.isCollapsed()) return panel.current?.collapse();
    panel.current.expand();
    // One that has been folded from the beginning has no height that it could come back to.
    if (panel.current.getSize().inPixels < HEADING_PX + leastPx)
      panel.current.resize(HEADING_PX + Math.max(leastPx, startsPx));
  };
  return (
    <Panel
      id={id}
      className="flex flex-col overflow-hidden"
      panelRef={panel}
      collapsible
      collapsedSize={HEADING_PX}
      minSize={HEADING_PX + leastPx}
      defaultSize={HEADING_PX + startsPx}
      groupResizeBehavior="preserve-pixel-size"
      onResize={({ inPixels }) => setFolded(inPixels <= HEADING_PX + 1)}
    >
      <section aria-label={title} className="flex h-full flex-col">
        <h2 className="flex shrink-0 items-center justify-between pr-5 pl-4" style={{ height: HEADING_PX }}>
          <button
            type="button"
            aria-expanded={!folded}
            className="flex cursor-pointer items-center gap-1 font-bold"
            onClick={turn}
          >
            <Chevron size={13} /> {title}
          </button>
          {beside}
        </h2>
        {!folded && <div className="flex min-h-0 grow flex-col">{content}</div>}
      </section>
    </Panel>
  );
}

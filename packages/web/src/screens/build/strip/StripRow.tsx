import { useEffect, useRef } from 'react';
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical, Headphones, Lock } from 'lucide-react';
import { isLocked } from '@imprint/core/patch/edits/locks';
import { usePatchStore } from '../../../stores/patchStore';
import { toggleSolo, useAudition } from '../../../stores/auditionStore';

export interface StripRowProps {
  id: string;
  title: string;
  detail: string;
  selected: boolean;
  onSelect: () => void;
  on?: boolean;
  onSwitch?: (on: boolean) => void;
  /** Whether the detail is a warning. */
  warned?: boolean;
  /** What sounds alone: a module of a layer, or with null the layer. */
  solo?: { layerId: string | null; moduleId: string | null };
  soloTitle?: string;
}

/** One element of the layer: its switch, what it is, its solo. */
export function StripRow({
  title,
  detail,
  selected,
  onSelect,
  on = true,
  onSwitch,
  warned = false,
  solo,
  soloTitle = 'Hear it alone (O)',
  grip,
}: StripRowProps & { grip?: React.ReactNode }) {
  const heard = useAudition((audition) => audition.solo);
  const alone = solo !== undefined && heard?.layerId === solo.layerId && heard.moduleId === solo.moduleId;
  const locked = usePatchStore(
    ({ patch }) =>
      patch !== null &&
      solo !== undefined &&
      solo.layerId !== null &&
      solo.moduleId !== null &&
      isLocked(patch, { layerId: solo.layerId, moduleId: solo.moduleId }),
  );
  const row = useRef<HTMLDivElement>(null);
  // What has just been added may stand below what is seen.
  useEffect(() => {
    if (selected) row.current?.scrollIntoView?.({ block: 'nearest' });
  }, [selected]);
  return (
    <div
      ref={row}
      className={`group flex items-center border-l-[3px] ${selected ? 'border-base-content bg-base-200' : 'border-transparent'}`}
    >
      {onSwitch ? (
        <input
          type="checkbox"
          className="checkbox checkbox-xs mr-1 ml-[9px]"
          aria-label={`${title} on`}
          checked={on}
          onChange={({ target }) => onSwitch(target.checked)}
        />
      ) : (
        <span className="mr-1 ml-[9px] w-4" />
      )}
      <button
        type="button"
        aria-pressed={selected}
        className={`min-w-0 grow px-2 py-[3px] text-left ${on ? '' : 'text-soft'}`}
        onClick={onSelect}
      >
        <span className="block truncate leading-tight">
          {title}
          {locked && <Lock size={10} className="ml-1 inline align-baseline" aria-label="kept in a match" />}
        </span>
        <span
          className={`block truncate text-2xs leading-tight ${warned ? 'font-bold text-error' : 'figures text-soft'}`}
        >
          {detail}
        </span>
      </button>
      {solo && (
        <button
          type="button"
          aria-label={`${title} alone`}
          aria-pressed={alone}
          title={soloTitle}
          className={`btn btn-xs btn-square shrink-0 ${alone ? 'btn-neutral' : 'btn-ghost opacity-40 group-hover:opacity-100 focus:opacity-100'}`}
          onClick={() => toggleSolo(solo.layerId, solo.moduleId)}
        >
          <Headphones size={12} />
        </button>
      )}
      {grip ?? <span className="w-3" />}
    </div>
  );
}

/** A row that can be dragged to another place in its list. */
export function SortableRow(props: StripRowProps) {
  const { setNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({ id: props.id });
  return (
    <div
      ref={setNodeRef}
      className={isDragging ? 'relative z-10 bg-base-200' : ''}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      <StripRow
        {...props}
        grip={
          <button
            type="button"
            {...attributes}
            {...listeners}
            tabIndex={-1}
            aria-label={`Move ${props.title}`}
            title="Drag to another place (Alt ↑ ↓)"
            className="w-3 shrink-0 cursor-grab touch-none text-soft opacity-40 hover:opacity-100"
          >
            <GripVertical size={12} />
          </button>
        }
      />
    </div>
  );
}

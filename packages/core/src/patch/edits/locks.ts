import { parameterOf } from '../../parameters/table';
import { modulesOf } from '../modules';
import type { Patch } from '../schema';
import { layerTitles } from '../words/words';

/** A module of a layer, or one of its numbers. */
export interface Lockable {
  layerId: string;
  moduleId: string;
  parameter?: string;
}

const lockOf = ({ layerId, moduleId, parameter }: Lockable) =>
  `${layerId}/${moduleId}${parameter === undefined ? '' : `.${parameter}`}`;

/** Whether a match leaves it as it is: by itself, or with its module. */
export const isLocked = ({ locks }: Patch, { layerId, moduleId, parameter }: Lockable): boolean =>
  locks.includes(lockOf({ layerId, moduleId })) ||
  (parameter !== undefined && locks.includes(lockOf({ layerId, moduleId, parameter })));

/** The patch with it locked, or no longer. Of a locked module a single number cannot be let go. */
export function turnLock(patch: Patch, lockable: Lockable): Patch {
  const lock = lockOf(lockable);
  const others = patch.locks.filter((one) => one !== lock);
  if (others.length < patch.locks.length) return { ...patch, locks: others };
  // A locked module holds its numbers, so they need no locks of their own.
  const held = lockable.parameter === undefined ? others.filter((one) => !one.startsWith(`${lock}.`)) : others;
  return { ...patch, locks: [...held, lock] };
}

/** The locks of the first layer that hold something, as a search takes them, with titles to show. */
export function heldLocks(patch: Patch): { lock: string; title: string }[] {
  const [layer] = patch.layers;
  const titles = layerTitles(layer, patch);
  const modules = modulesOf(layer);
  return patch.locks.flatMap((whole) => {
    if (!whole.startsWith(`${layer.id}/`)) return [];
    const lock = whole.slice(layer.id.length + 1);
    const module = modules.find(({ id }) => lock === id || lock.startsWith(`${id}.`));
    if (!module) return [];
    const parameter = parameterOf(module.kind, lock.slice(module.id.length + 1));
    const title = titles.get(module.id) ?? module.id;
    return [{ lock, title: parameter ? `${title}, ${parameter.label.toLowerCase()}` : title }];
  });
}

import {
  type PatchResources,
  type ResourceRequest,
  gatherResources,
  prepareResource,
  resourcesWanted,
} from '../engine/program/resources';
import type { Patch } from '../patch/schema';

type Prepared = ReturnType<typeof prepareResource>;

/** A search prints hundreds of patches that differ in numbers only. */
const MOST_KEPT = 12;
const known = new Map<string, Prepared>();

/** What a patch plays besides its numbers, made ready once for all patches that play the same. */
export const preparedOf = (patch: Patch): PatchResources =>
  gatherResources(resourcesWanted(patch).map((request) => [request, prepared(request)] as const));

function prepared(request: ResourceRequest): Prepared {
  const content = `${request.kind} ${request.content}`;
  const made = known.get(content) ?? prepareResource(request);
  // The one that was used last is given up last.
  known.delete(content);
  known.set(content, made);
  if (known.size > MOST_KEPT) known.delete(known.keys().next().value!);
  return made;
}

import type { Audio } from '../audio';
import type { Material } from '../material';
import type { Reading, TraitId } from '../schema';

/**
 * Makes what a trait was told from heard alone, as long as the cut; undefined where there is nothing of it.
 */
export type EvidenceMaker = (audio: Audio, reading: Reading, partial: number) => Float64Array[] | undefined;

/** A reading as far as it is there when its doubts are told. */
export type DoubtedReading = Omit<Reading, 'doubts'>;

/**
 * Everything that the reading knows about one trait. A new trait is a folder with this, its schema and what
 * of it can be overruled, and a line in the list of each.
 */
export interface TraitDescriptor<T extends TraitId> {
  measure(material: Material): Reading['traits'][T];
  /** Why what was read is not sure, in words, as a sentence without its end; asked for when it is not. */
  doubt(reading: DoubtedReading): string | undefined;
  /** What can be listened to alone, by names that no other trait uses. */
  evidence: Readonly<Record<string, EvidenceMaker>>;
}

/** A process of its own for a part of the random patches: `bench patches` keeps one on every core. */
import { checkRandomPatches } from './randomPatches';

const [firstSeed, count] = process.argv.slice(2).map(Number);
process.send!(checkRandomPatches(firstSeed, count));

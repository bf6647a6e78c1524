import { plainPatch } from '../../../test/patches';
import { freedoms } from '../explain/hypothesis';
import { beginningsOf } from './beginnings';

describe('where a search begins', () => {
  const [drive] = freedoms('shaper', 'dirt', { driveDb: 0.1 });

  it('is the patch as it is where the evidence tells all', () => {
    const patch = plainPatch('saw');
    expect(beginningsOf(patch, [drive])).toEqual([patch]);
    expect(beginningsOf(patch, [{ ...drive, moduleId: 'nothing', startsAt: [1, 2] }])).toEqual([patch]);
  });

  it('is also wherever a number may begin, and leaves the patch as it was', () => {
    const patch = plainPatch('saw');
    const before = JSON.stringify(patch);
    const begun = beginningsOf(patch, [{ ...drive, startsAt: [2, 23] }]);
    expect(begun.slice(1).map(({ layers: [{ shaper }] }) => shaper.driveDb)).toEqual([2, 23]);
    expect(JSON.stringify(patch)).toBe(before);
  });
});

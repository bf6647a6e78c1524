import { createHeldNotes } from './heldNotes';

const idsOf = (held: ReturnType<typeof createHeldNotes>) =>
  Array.from({ length: held.count }, (_, i) => held.at(i).noteId);

it('keeps the order in which keys were struck, whichever is let go', () => {
  const held = createHeldNotes();
  for (const id of [7, 3, 9]) held.add(id).midi = 40 + id;
  held.remove(3);
  expect(idsOf(held)).toEqual([7, 9]);
  held.remove(99);
  held.add(1).midi = 41;
  expect(idsOf(held)).toEqual([7, 9, 1]);
  expect([0, 1, 2].map((i) => held.at(i).midi)).toEqual([47, 49, 41]);
});

it('holds a key once, from when it was struck last', () => {
  const held = createHeldNotes();
  for (const id of [1, 2, 1]) held.add(id);
  expect(idsOf(held)).toEqual([2, 1]);
});

it('takes more keys than it was prepared for', () => {
  const held = createHeldNotes();
  for (let id = 0; id < 200; id++) held.add(id);
  expect(idsOf(held)).toEqual(Array.from({ length: 200 }, (_, i) => i));
  held.clear();
  expect(held.count).toBe(0);
});

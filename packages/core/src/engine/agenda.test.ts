import { createAgenda } from './agenda';

const at = (frame: number, name: string) => ({ frame, name });

function takenBefore(agenda: ReturnType<typeof createAgenda<{ frame: number; name: string }>>, frame: number) {
  const names: string[] = [];
  for (let entry = agenda.takeBefore(frame); entry; entry = agenda.takeBefore(frame)) names.push(entry.name);
  return names.join(' ');
}

it('gives the earliest first, and those of one frame in the order in which they came', () => {
  const agenda = createAgenda<{ frame: number; name: string }>();
  for (const entry of [at(30, 'c'), at(10, 'a'), at(30, 'd'), at(20, 'b'), at(10, 'a2')]) agenda.add(entry);
  expect(takenBefore(agenda, 10)).toBe('');
  expect(takenBefore(agenda, 30)).toBe('a a2 b');
  expect(takenBefore(agenda, 31)).toBe('c d');
});

it('sorts what comes after some have been taken behind those', () => {
  const agenda = createAgenda<{ frame: number; name: string }>();
  agenda.add(at(10, 'a'));
  agenda.add(at(20, 'c'));
  expect(takenBefore(agenda, 11)).toBe('a');
  agenda.add(at(5, 'late'));
  agenda.add(at(15, 'b'));
  expect(takenBefore(agenda, 100)).toBe('late b c');
});

it('forgets what it is told to', () => {
  const agenda = createAgenda<{ frame: number; name: string }>();
  agenda.add(at(10, 'a'));
  agenda.clear();
  agenda.add(at(20, 'b'));
  expect(takenBefore(agenda, 100)).toBe('b');
});

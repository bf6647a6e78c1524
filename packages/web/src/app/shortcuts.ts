/**
 * Every key of the program: what it does, and where it works. The `?` list and the labels on buttons are made
 * of this table.
 */
export const shortcuts = {
  play: { keys: 'space', shown: 'Space', what: 'Play or stop', where: 'Everywhere' },
  flip: { keys: 'f', shown: 'F', what: 'Flip between reference and patch', where: 'Everywhere' },
  loop: { keys: 'l', shown: 'L', what: 'Loop the cut on or off', where: 'Everywhere' },
  equalLoudness: { keys: 'e', shown: 'E', what: 'Equal loudness on or off', where: 'Everywhere' },
  record: { keys: 'r', shown: 'R', what: 'Record what is heard, again to save it', where: 'Everywhere' },
  undo: { keys: 'mod+z', shown: 'Ctrl Z', what: 'Undo an edit of the patch', where: 'Everywhere' },
  redo: { keys: 'mod+shift+z,mod+y', shown: 'Ctrl Shift Z', what: 'Redo', where: 'Everywhere' },
  keepProof: { keys: 'p', shown: 'P', what: 'Keep a proof', where: 'Everywhere' },
  keyboard: { keys: 'k', shown: 'K', what: 'Fold the keyboard out or in', where: 'Everywhere' },
  theme: { keys: 't', shown: 'T', what: 'Paper or night', where: 'Everywhere' },
  help: { keys: 'shift+?,?', shown: '?', what: 'This list', where: 'Everywhere' },
  step: { keys: '1,2,3,4,5,6', shown: '1 … 6', what: 'Go to a step', where: 'Everywhere' },
  zoomIn: { keys: 'equal,shift+equal,add', shown: '+', what: 'Zoom in', where: 'Listen, Compare' },
  zoomOut: { keys: 'minus,subtract', shown: '−', what: 'Zoom out', where: 'Listen, Compare' },
  zoomCut: {
    keys: 'q',
    shown: 'Q',
    what: 'Show the chosen cut, again for the whole file; on Compare the whole',
    where: 'Listen, Compare',
  },
  addCut: { keys: 'a', shown: 'A', what: 'Cut two seconds from the cursor on', where: 'Listen' },
  deleteCut: { keys: 'delete', shown: 'Delete', what: 'Delete the chosen cut', where: 'Listen' },
  earlier: { keys: 'left', shown: '←', what: 'Cursor to the onset before', where: 'Listen' },
  later: { keys: 'right', shown: '→', what: 'Cursor to the onset after', where: 'Listen' },
  build: { keys: 'enter', shown: 'Enter', what: 'Match the cut: measure it and rebuild its tone', where: 'Listen' },
  tap: { keys: 'b', shown: 'B', what: 'Tap the beat, three times or more, while it plays', where: 'Listen' },
  splitNote: { keys: 's', shown: 'S', what: 'Split the chosen note at the cursor', where: 'Listen' },
  joinNote: { keys: 'j', shown: 'J', what: 'Join the chosen note with the next', where: 'Listen' },
  undoNote: { keys: 'z', shown: 'Z', what: 'Take the last correction of a note back', where: 'Listen' },
  match: {
    keys: 'enter',
    shown: 'Enter',
    what: 'Begin a match as it is set, or a blind test',
    where: 'Match, Compare',
  },
  endRun: { keys: 'escape', shown: 'Esc', what: 'End the match; what it has found stays', where: 'Match' },
  nextCandidate: { keys: 'n', shown: 'N', what: 'Hear the next candidate', where: 'Match' },
  adopt: { keys: 'u', shown: 'U', what: 'Use the candidate that is heard, whole', where: 'Match' },
  swap: { keys: 'g', shown: 'G', what: 'In the track: change over to the track or back', where: 'Compare' },
  hearA: { keys: 'a', shown: 'A', what: 'Blind test: hear A, the reference', where: 'Compare' },
  hearB: { keys: 'b', shown: 'B', what: 'Blind test: hear B, the patch', where: 'Compare' },
  hearX: { keys: 'x', shown: 'X', what: 'Blind test: hear X, one of the two', where: 'Compare' },
  sayA: { keys: 'left', shown: '←', what: 'Blind test: X was A', where: 'Compare' },
  sayB: { keys: 'right', shown: '→', what: 'Blind test: X was B', where: 'Compare' },
  exaggerate: { keys: 'w', shown: 'W, held', what: 'Exaggerate the chosen movement threefold', where: 'Build' },
  solo: { keys: 'o', shown: 'O', what: 'Hear the chosen element alone', where: 'Build' },
  switch: { keys: 'i', shown: 'I', what: 'Switch the chosen element in or out', where: 'Build' },
  lock: { keys: 'y', shown: 'Y', what: 'Lock the chosen element for matches, or let it go', where: 'Build' },
  duplicate: { keys: 'mod+d', shown: 'Ctrl D', what: 'Duplicate the chosen element', where: 'Build' },
  remove: { keys: 'delete', shown: 'Delete', what: 'Delete the chosen element', where: 'Build' },
  moveUp: { keys: 'alt+up', shown: 'Alt ↑', what: 'Move the chosen element up', where: 'Build' },
  moveDown: { keys: 'alt+down', shown: 'Alt ↓', what: 'Move the chosen element down', where: 'Build' },
  copy: { keys: 'mod+c', shown: 'Ctrl C', what: 'Copy a source, a contour or a layer', where: 'Build' },
  paste: { keys: 'mod+v', shown: 'Ctrl V', what: 'Paste it into the chosen layer', where: 'Build' },
} as const;

/**
 * Whether a key writes a character, which can be switched off (WCAG 2.1, 2.1.4): others may be hit by speech
 * input or by chance.
 */
export const isCharacterKey = (keys: string): boolean =>
  keys
    .split(',')
    .every((key) => key.length === 1 || ['equal', 'shift+equal', 'add', 'minus', 'subtract', 'shift+?'].includes(key));

export type ShortcutName = keyof typeof shortcuts;

/** Keys on the control itself, for the list. */
export const rulerKeys = [
  { shown: '← →', what: 'Move a ruler by a step; with Shift by a tenth' },
  { shown: 'Page ↑ ↓', what: 'Move a ruler by ten steps' },
  { shown: 'Enter, 0 … 9', what: 'Type a value with its unit, such as 350 Hz; a time as 1/16 or 4 bars' },
  { shown: 'Wheel', what: 'Move the ruler that has the focus' },
  { shown: 'Double click', what: 'Back to the default; with Alt to what was measured' },
] as const;

/** Keys on a note of the roll. */
export const noteKeys = [
  { shown: '↑ ↓', what: 'Move a note by a semitone; with Shift by an octave' },
  { shown: '← →', what: 'Move a note by 10 ms' },
  { shown: 'Delete', what: 'Delete a note' },
] as const;

/** The row of letters that is played like a keyboard, from C on. */
export const PIANO_LETTERS = 'zsxdcvgbhnjm';

/** Keys of the keyboard to play, while it is folded out; they go before all others. */
export const pianoKeys = [
  { shown: [...PIANO_LETTERS.toUpperCase()].join(' '), what: 'Notes from C to B' },
  { shown: '[ ]', what: 'An octave down or up' },
] as const;

/** A key of the room, and what it does. */
interface RoomKey {
  key: string;
  label: string;
}

const KEYS: RoomKey[] = [
  { key: 'N', label: 'next to mark' },
  { key: 'E', label: 'end note' },
  { key: '↑ ↓', label: 'everybody' },
  { key: 'F', label: 'next file' },
  { key: 'R', label: 'turn' },
  { key: '+ −', label: 'size' },
];
const SCORE_KEYS: RoomKey[] = [{ key: '0–9', label: 'score' }];
const RUBRIC_KEYS: RoomKey[] = [
  { key: '1–9', label: 'level, goes on by itself' },
  { key: '← →', label: 'part points' },
];
/** Keys that are listed by ? alone. */
const MORE_KEYS: RoomKey[] = [
  { key: '0', label: 'nothing for this criterion' },
  { key: 'X', label: 'left out of the sum' },
  { key: 'Backspace', label: 'not assessed' },
  { key: '=', label: 'the levels’ sum in the place of a typed score' },
  { key: 'S', label: 'type a score' },
];
const MARK_KEYS: RoomKey[] = [
  { key: 'H', label: 'highlight what is chosen, else an area' },
  { key: 'C', label: 'comment on what is chosen' },
  { key: 'K', label: 'strike what is chosen' },
  { key: 'M', label: 'note in the margin' },
  { key: 'T', label: 'text on the work' },
  { key: 'P', label: 'pen' },
  { key: 'Ctrl Z', label: 'undo a mark' },
  { key: 'Ctrl Y', label: 'redo it' },
  { key: 'Delete', label: 'take a mark off' },
];
const OTHER_KEYS: RoomKey[] = [
  { key: 'L', label: 'second look, or not any more' },
  { key: 'W', label: 'find words in the work' },
  { key: 'A', label: 'say it: begin to record, or end it' },
  { key: 'O', label: 'open again' },
  { key: 'Ctrl Enter', label: 'release what stands here to this student' },
  { key: 'V', label: 'hide names, or show them' },
];

/** Keys that do something in the room, for the foot and for the list of all of them. */
export function roomKeys(room: { rubric: boolean; scores: boolean; bare: boolean }): {
  foot: RoomKey[];
  all: RoomKey[];
} {
  if (!room.bare) return { foot: [], all: [] };
  const scoring = !room.scores ? [] : room.rubric ? RUBRIC_KEYS : SCORE_KEYS;
  const foot = [...scoring, ...KEYS];
  return {
    foot,
    all: [...foot, ...(room.rubric && room.scores ? MORE_KEYS : []), ...(room.scores ? MARK_KEYS : []), ...OTHER_KEYS],
  };
}

/** What has keys of its own. */
export const OWN_KEYS =
  'input, textarea, select, audio, video, [contenteditable=true], [role=dialog], [role=listbox], .p-select';

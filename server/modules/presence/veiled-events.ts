import type { LiveEvent } from '@contract/presence';
import { WHOLE_STUDENT } from '../annotations';
import type { Names } from '../hidden-names';

/** An event as it may be told to somebody who looks at a book by name, or at one assessment without; null: it may not. */
export function toldTo(event: LiveEvent, address: string, names: Names): LiveEvent | null {
  const open = openPart(event, names);
  return open && { ...(names.veil ? names.veil.toAliases(open) : open), book: address };
}

function openPart(event: LiveEvent, names: Names): LiveEvent | null {
  switch (event.kind) {
    case 'cells': {
      const at = event.cells.flatMap((c, i) => (names.opens(c.assessment) ? [i] : []));
      if (at.length === 0) return null;
      return { ...event, cells: at.map((i) => event.cells[i]!), by: at.map((i) => event.by[i]!) };
    }
    case 'remarks': {
      const remarks = event.remarks.filter((r) => names.opens(r.place === WHOLE_STUDENT ? null : r.place));
      return remarks.length === 0 ? null : { ...event, remarks };
    }
    case 'marking': {
      const places = event.places.filter((p) => names.opens(p.assessment));
      return places.length === 0 ? null : { ...event, places };
    }
    case 'feedback':
    case 'marks':
    case 'opened':
    case 'slip':
      return names.opens(event.assessment) ? event : null;
    case 'people':
      return {
        ...event,
        people: event.people.map((p) => (names.opens(p.assessment) ? p : { ...p, enrolment: null, assessment: null })),
      };
    default:
      return event;
  }
}

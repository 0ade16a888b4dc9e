import type { Group } from '@core/book/document';

/** What a category is called: its title, or its id where the rules give it none. */
export function groupTitle(group: Group): string {
  const info = group.info as { title?: unknown } | undefined;
  return typeof info?.title === 'string' ? info.title : group.id;
}

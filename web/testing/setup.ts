import 'fake-indexeddb/auto';

// jsdom has none; PrimeNG's lists ask it for the width and for less motion.
window.matchMedia ??= (query: string) =>
  ({ matches: false, media: query, addEventListener: () => undefined, removeEventListener: () => undefined }) as never;

import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { describe, expect, it } from 'vitest';
import type { Phrases } from '@contract/work/feedback';
import { openPage } from '../../testing/open-book';
import { soon } from '../../testing/soon';
import { PhraseBook } from './phrases';

@Component({ template: '', changeDetection: ChangeDetectionStrategy.OnPush })
class Host {
  readonly phrases = inject(PhraseBook);
}

const phrase = (id: string, words: string) => ({ id, words, version: 1, scope: 'own', uses: 0 });

describe('phrases', () => {
  it('that are written at once stand there both, however long the first takes, and one that is refused holds up none', async () => {
    const kept: { id: string; words: string }[] = [];
    const answers: (() => void)[] = [];
    const page = await openPage(
      Host,
      ({ path, body }) => {
        const { words } = body as { words: string };
        if (words === 'refused') throw new Error('no');
        kept.push({ id: path.split('/').at(-1)!, words });
        const list = kept.map((k) => phrase(k.id, k.words)) as unknown as Phrases;
        return new Promise((done) => answers.push(() => done(list)));
      },
      (path) => (path.endsWith('/phrases') ? [] : undefined),
    );
    const { phrases } = page.fixture.componentInstance;
    const written = [
      phrases.write({ id: 'a', version: 0 }, 'own', 'Name the horizons.'),
      phrases.write({ id: 'b', version: 0 }, 'own', 'refused').catch(() => 'was refused'),
      phrases.write({ id: 'c', version: 0 }, 'own', 'Well argued.'),
    ];
    await soon(() => expect(answers.length).toBeGreaterThan(0));
    // Whatever is on its way by now is answered from the last to the first.
    await new Promise((done) => setTimeout(done, 20));
    for (const answer of answers.toReversed()) answer();
    await soon(() => expect(kept).toHaveLength(2));
    for (const answer of answers.toReversed()) answer();
    expect(await Promise.all(written)).toEqual([undefined, 'was refused', undefined]);
    expect(phrases.all().map((p) => p.words)).toEqual(['Name the horizons.', 'Well argued.']);
  });
});

import { openPage } from '../../testing/open-book';
import { ClosingPage } from './closing';
import { soon } from '../../testing/soon';

describe('the closing page', () => {
  it('shows every grade as it stands, what is open, and how letters spread', async () => {
    const page = await openPage(ClosingPage);
    const rows = [...(page.fixture.nativeElement as HTMLElement).querySelectorAll('tbody tr')].map((r) =>
      [...r.querySelectorAll('td')].map((d) => d.textContent!.trim()),
    );
    expect(rows).toEqual([
      ['Adler', '', '', '80.0', 'A', '53.3 – 86.7'],
      ['Birch', '', '', '30.0', 'F', '20.0 – 53.3'],
    ]);
    expect(page.text()).toContain('2 of 2 students still have something open, so their grade can change.');
    expect(page.text()).toContain('as they stand on 24 Nov 09:00, by rules version 1.');
  });

  it('says in a sentence why the file could not be made', async () => {
    const page = await openPage(ClosingPage);
    vi.stubGlobal('fetch', () => Promise.reject(new Error('no line')));
    page.element('p-button button').click();
    await soon(() => expect(page.text()).toContain('The server does not answer. No file was made; try again.'));
    vi.unstubAllGlobals();
  });
});

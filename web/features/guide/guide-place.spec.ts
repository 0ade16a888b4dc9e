import pages from '@guide/pages.json';
import { routes } from '../../app/routes';
import { guidePlace } from '../../ui/layout/guide-place';
import { PARTS } from '../rules/sentences';

/** An address for every page of the application that has one. */
const addresses = routes.flatMap((r): string[] => {
  if (r.path === '' || r.path === '**' || r.path === 'guide') return [];
  const here = `/${r.path}`.replace(/:\w+/g, 'x');
  return r.children
    ? r.children.filter((c) => c.path !== '').map((c) => `${here}/${c.path!.replace(/:\w+/g, 'x')}`)
    : [here];
});
/** These stand alone: nobody is signed in there. */
const ALONE = ['/sign-in', '/welcome', '/forgotten'];

describe('what of the guide belongs to a page', () => {
  it.each(addresses.filter((a) => !ALONE.includes(a)))('%s', (address) => {
    const [path, part] = guidePlace(`${address}?of=x#y`).split('#');
    expect(path).not.toBe('');
    const page = pages.find((p) => p.path === path);
    expect(page?.title).toBeTruthy();
    if (part) expect(page!.parts.map((p) => p.id)).toContain(part);
  });
  it('has a page for every kind of rule', () => {
    for (const part of PARTS) expect(pages.map((p) => p.path)).toContain(`rules/${part.id}`);
  });
  it('is cut into parts with words to be found by', () => {
    for (const page of pages)
      for (const part of page.parts) {
        expect(part.text.length).toBeGreaterThan(20);
        expect(part.html).not.toMatch(/\(example |\.md\b/);
      }
  });
});

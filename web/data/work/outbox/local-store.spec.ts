import { soon } from '../../../testing/soon';
import { LocalStore } from './local-store';

interface Word {
  id: string;
  text: string;
}

let n = 0;
const store = (name: string, lost = 'a word could not be kept'): LocalStore<Word> =>
  new LocalStore(name, 'words', 'id', lost);

afterEach(() => vi.restoreAllMocks());

describe('what the server has not kept yet, on this machine’s disk', () => {
  it('stands there as it was last, whether it was gathered or not', async () => {
    const disk = store(`words-${++n}`);
    disk.putSoon({ id: 'a', text: 'r' });
    disk.putSoon({ id: 'a', text: 'reed' });
    disk.putSoon({ id: 'b', text: 'moss' });
    await disk.put({ id: 'a', text: 'reeds' });
    expect(await disk.all()).toEqual([
      { id: 'a', text: 'reeds' },
      { id: 'b', text: 'moss' },
    ]);
    disk.putSoon({ id: 'c', text: 'peat' });
    await disk.remove([
      { id: 'b', text: '' },
      { id: 'c', text: '' },
    ]);
    expect(await disk.all()).toEqual([{ id: 'a', text: 'reeds' }]);
  });

  it('is gathered for a moment, and put at once where the page is left', async () => {
    const disk = store(`words-${++n}`);
    disk.putSoon({ id: 'a', text: 'reed' });
    await soon(async () => expect(await disk.all()).toHaveLength(1));
    disk.putSoon({ id: 'b', text: 'moss' });
    globalThis.dispatchEvent(new Event('pagehide'));
    expect(await disk.all()).toHaveLength(2);
  });

  it('is said not to stand there where the disk refuses, or never answers, and stands there once it does', async () => {
    const told = vi.spyOn(console, 'error').mockReturnValue();
    for (const silent of [false, true]) {
      const open = vi.spyOn(indexedDB, 'open').mockImplementation(() => {
        if (silent) return new EventTarget() as IDBOpenDBRequest;
        throw new Error('refused');
      });
      vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
      const disk = store(`words-${++n}`, 'a word of this test could not be kept');
      const put = disk.put({ id: 'a', text: 'reed' });
      await vi.advanceTimersByTimeAsync(6_000);
      await put;
      expect(disk.failing()).toBe(true);
      vi.useRealTimers();
      open.mockRestore();
      await disk.put({ id: 'a', text: 'reed' });
      expect([disk.failing(), (await disk.all()).length]).toEqual([false, 1]);
    }
    // A store that another test left behind may say something of its own meanwhile.
    expect(told.mock.calls.filter(([what]) => what === 'a word of this test could not be kept')).toHaveLength(2);
  });
});

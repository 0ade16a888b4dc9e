import { TestBed } from '@angular/core/testing';
import { DECODE_PICTURE } from './decode-picture';
import { OPEN_DOCUMENT } from './documents/read-document';
import { ReadyFiles } from './ready-files';
import type { WorkFile } from './work-file';

const file = (key: string, mediaType: string, bytes = 3): WorkFile => ({
  ...{ key, id: key, name: key, bytes, mediaType, sha256: key, address: `/files/${key}` },
});

describe('files that are made ready', () => {
  let closed: string[];
  let decoded: number;
  let asked: string[];
  let files: ReadyFiles;
  let broken: boolean;

  beforeEach(() => {
    [closed, decoded, asked, broken] = [[], 0, [], false];
    vi.spyOn(globalThis, 'fetch').mockImplementation(async (address) => {
      asked.push(address as string);
      return new Response(broken ? null : Uint8Array.of(1, 2, 3), { status: broken ? 503 : 200 });
    });
    const decode = async () => {
      const n = ++decoded;
      return { width: 1, height: 1, close: () => closed.push(`picture ${n}`) } as unknown as ImageBitmap;
    };
    TestBed.configureTestingModule({
      providers: [
        { provide: DECODE_PICTURE, useValue: decode },
        { provide: OPEN_DOCUMENT, useValue: async () => ({ kind: 'sheets', sheets: [] }) },
      ],
    });
    files = TestBed.inject(ReadyFiles);
  });

  it('are fetched and decoded once, though they are wanted ahead and again', async () => {
    const one = file('one', 'image/png');
    files.ahead(one);
    const [a, b] = await Promise.all([files.of(one), files.of(one)]);
    expect(a).toBe(b);
    expect([decoded, asked]).toEqual([1, ['/files/one?ahead']]);
    expect(await files.of(file('list', 'text/csv'))).toMatchObject({ as: 'document' });
    expect(await files.of(file('notes', 'text/plain'))).toMatchObject({ as: 'bytes' });
  });

  it('give their memory back when others take their place', async () => {
    for (let n = 1; n <= 8; n++) await files.of(file(`p${n}`, 'image/png'));
    await Promise.resolve();
    expect(closed).toEqual(['picture 1', 'picture 2', 'picture 3']);
    // Looked at again it is decoded again.
    await files.of(file('p1', 'image/png'));
    expect(decoded).toBe(9);
  });

  it('that could not be fetched say so, and are tried anew the next time', async () => {
    broken = true;
    const one = file('one', 'image/png');
    files.ahead(one);
    await expect(files.of(one)).rejects.toThrow('one could not be fetched (503).');
    broken = false;
    expect(await files.of(one)).toMatchObject({ as: 'picture' });
  });

  it('that cannot be shown are not fetched at all', async () => {
    files.ahead(file('x', 'application/zip'));
    await expect(files.of(file('x', 'application/zip'))).rejects.toThrow('not shown here');
    await expect(files.of(file('y', 'image/png', 0))).rejects.toThrow('empty');
    expect(asked).toEqual([]);
  });
});

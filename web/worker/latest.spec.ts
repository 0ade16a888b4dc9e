import { Latest } from './latest';

it('takes the last that was asked for, whichever comes first', async () => {
  const latest = new Latest();
  const come: ((what: string) => void)[] = [];
  const ask = () => latest.take(new Promise<string>((done) => come.push(done)));
  const [large, small] = [ask(), ask()];
  come[1]!('small');
  expect(await small).toBe('small');
  come[0]!('large');
  await expect(large).rejects.toThrow('Another book was opened meanwhile.');
});

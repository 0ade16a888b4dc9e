import { TestBed } from '@angular/core/testing';
import { StatusBar } from '../ui/layout/status-bar';
import { SheetClosed } from '../worker/sheet-session';
import { UncaughtErrors } from './uncaught';

it('tells the person of an error that nobody caught, and of a page whose files are gone', () => {
  const logged = vi.spyOn(console, 'error').mockImplementation(() => undefined);
  TestBed.configureTestingModule({ providers: [UncaughtErrors] });
  const [errors, bar] = [TestBed.inject(UncaughtErrors), TestBed.inject(StatusBar)];
  // What was asked of a book that is not open any more is nobody's.
  errors.handleError(new SheetClosed());
  expect([bar.message(), logged.mock.calls.length]).toEqual(['', 0]);
  errors.handleError(new Error('x is undefined'));
  expect([bar.message(), bar.tone()]).toEqual([
    expect.stringMatching(/Something went wrong.*x is undefined/),
    'trouble',
  ]);
  errors.handleError(new TypeError('Failed to fetch dynamically imported module: /chunk-A.js'));
  expect(bar.message()).toMatch(/newer version of this page.*Nothing that you typed is lost/);
  expect(logged).toHaveBeenCalledTimes(2);
  // A part that did not come never hides what is said of the line.
  bar.announce('2 cells are not kept yet', 'trouble');
  errors.handleError(new Error('NG0750'));
  expect(bar.message()).toBe('2 cells are not kept yet');
  bar.announce('');
  errors.handleError(new Error('NG0750'));
  expect(bar.message()).toContain('A part of this page could not be fetched');
});

import { ChangeDetectionStrategy, Component, provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Button } from 'primeng/button';
import { Select } from 'primeng/select';
import { describe, expect, it } from 'vitest';
import { soon } from '../../testing/soon';
import { withoutNativeAutofocus } from './native-autofocus';

@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Button, Select],
  template: '<p-select [options]="[]" /><p-button label="Plain" /><p-button label="Told" [autofocus]="true" />',
})
class Controls {}

describe('controls', () => {
  it('take the keys when they were told to, and leave none to the browser', async () => {
    withoutNativeAutofocus();
    TestBed.configureTestingModule({ imports: [Controls], providers: [provideZonelessChangeDetection()] });
    const fixture = TestBed.createComponent(Controls);
    const root = fixture.nativeElement as HTMLElement;
    document.body.append(root);
    await fixture.whenStable();
    expect(root.querySelectorAll('button, [role=combobox]')).toHaveLength(3);
    expect(root.querySelectorAll('[autofocus]:not(p-button)')).toHaveLength(0);
    await soon(() => expect(document.activeElement?.textContent).toBe('Told'));
  });
});

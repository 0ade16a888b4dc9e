import type { ComponentFixture } from '@angular/core/testing';

/** Chooses in a field that is one of a few, as a person does: opened, and the option of that text pressed. */
export async function choose(fixture: ComponentFixture<unknown>, label: string, text: string): Promise<void> {
  const root = fixture.nativeElement as HTMLElement;
  const field = root.querySelector<HTMLElement>(`[role=combobox][aria-label="${label}"]`);
  if (!field) throw new Error(`there is no field “${label}”`);
  field.click();
  await fixture.whenStable();
  const options = [...document.querySelectorAll<HTMLElement>('[role=option]')];
  const option = options.find((o) => o.textContent?.trim() === text);
  if (!option)
    throw new Error(`“${label}” has no “${text}”, but ${options.map((o) => o.textContent?.trim()).join(', ')}`);
  option.click();
  await fixture.whenStable();
}

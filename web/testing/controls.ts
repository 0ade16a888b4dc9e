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

/** The field of this label. */
export const labelled = (root: HTMLElement, label: string): HTMLInputElement =>
  root.querySelector<HTMLInputElement>(`[aria-label="${label}"]`)!;

/** Types into the field of this label, and leaves it. */
export function type(root: HTMLElement, label: string, text: string): void {
  const box = labelled(root, label);
  box.value = text;
  box.dispatchEvent(new Event('input', { bubbles: true }));
  box.dispatchEvent(new Event('change', { bubbles: true }));
}

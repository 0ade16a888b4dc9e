import { completions } from '@core/import/typed';

/** One word left that begins as typed: it is completed, the added part chosen, so that typing on replaces it. */
export function completeTyped(event: Event, marks: readonly string[]): void {
  const box = event.target as HTMLInputElement;
  const typed = box.value;
  const words = completions(typed, marks);
  const adding = (event as InputEvent).inputType?.startsWith('insert') ?? true;
  if (adding && words.length === 1 && words[0]!.length > typed.length && box.selectionStart === typed.length) {
    box.value = words[0]!;
    box.setSelectionRange(typed.length, words[0]!.length);
  }
}

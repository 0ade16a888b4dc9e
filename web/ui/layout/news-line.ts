import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { RouterLink } from '@angular/router';

/** One line at the top of a student's page where something is new: the latest of it, and the way to all. */
@Component({
  selector: 'lt-news-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink],
  template: `
    @if (told()[0]; as latest) {
      <p class="notice" role="status">
        <b>{{ latest.bookTitle }}:</b> {{ words() }}
        <a class="word" routerLink="/news">{{ told().length === 1 ? 'read it' : 'read all ' + told().length }}</a>
      </p>
    }
  `,
})
export class NewsLine {
  /** What is unread, the latest first. */
  readonly told = input.required<readonly { bookTitle: string; text: string }[]>();
  protected readonly words = computed(() => this.told()[0]?.text.split('\n', 1)[0] ?? '');
}

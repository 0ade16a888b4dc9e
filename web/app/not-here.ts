import { ChangeDetectionStrategy, Component } from '@angular/core';
import { RouterLink } from '@angular/router';

@Component({
  selector: 'lt-not-here',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink],
  template: `<main class="sheet">
    <h1>There is no such page</h1>
    <p>The address may be mistyped. <a class="word" routerLink="/">To the first page</a></p>
  </main>`,
  styles: `
    main {
      margin: 16px;
      padding: 28px;
      display: grid;
      gap: 8px;
    }
  `,
})
export class NotHerePage {}

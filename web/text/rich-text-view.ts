import { NgTemplateOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { Inline, Mark, RichText } from '@core/text/rich-text';

/** Text with formatting as it is read: drawn piece by piece, so that nothing in it can be anything but words and links. */
@Component({
  selector: 'lt-rich-text',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NgTemplateOutlet],
  template: `
    <ng-template #inline let-nodes>
      @for (n of nodes; track $index) {
        @if (n.type === 'hardBreak') {
          <br />
        } @else if (hrefOf(n); as href) {
          <a [href]="href" target="_blank" rel="noopener noreferrer nofollow" [class]="classOf(n)">{{ n.text }}</a>
        } @else {
          <span [class]="classOf(n)">{{ n.text }}</span>
        }
      }
    </ng-template>
    <ng-template #blocks let-nodes>
      @for (b of nodes; track $index) {
        @switch (b.type) {
          @case ('heading') {
            <h3>
              <ng-container [ngTemplateOutlet]="inline" [ngTemplateOutletContext]="{ $implicit: b.content ?? [] }" />
            </h3>
          }
          @case ('bulletList') {
            <ul>
              @for (i of b.content; track $index) {
                <li>
                  <ng-container [ngTemplateOutlet]="blocks" [ngTemplateOutletContext]="{ $implicit: i.content }" />
                </li>
              }
            </ul>
          }
          @case ('orderedList') {
            <ol>
              @for (i of b.content; track $index) {
                <li>
                  <ng-container [ngTemplateOutlet]="blocks" [ngTemplateOutletContext]="{ $implicit: i.content }" />
                </li>
              }
            </ol>
          }
          @case ('blockquote') {
            <blockquote>
              <ng-container [ngTemplateOutlet]="blocks" [ngTemplateOutletContext]="{ $implicit: b.content }" />
            </blockquote>
          }
          @default {
            <p>
              <ng-container [ngTemplateOutlet]="inline" [ngTemplateOutletContext]="{ $implicit: b.content ?? [] }" />
            </p>
          }
        }
      }
    </ng-template>
    <ng-container [ngTemplateOutlet]="blocks" [ngTemplateOutletContext]="{ $implicit: text().content }" />
  `,
  styles: `
    :host {
      display: block;
      overflow-wrap: anywhere;
      line-height: 1.5;
    }
    :host > * + * {
      margin-top: 0.6em;
    }
    p,
    span {
      white-space: pre-wrap;
    }
    h3 {
      font-size: 17px;
    }
    ul,
    ol {
      padding-left: 1.6em;
      margin: 0.4em 0;
    }
    blockquote {
      margin: 0.6em 0;
      padding-left: 10px;
      border-left: 3px solid var(--rule);
    }
    a {
      color: var(--teal);
      text-decoration: underline;
    }
    .bold {
      font-weight: 700;
    }
    .italic {
      font-style: italic;
    }
    .underline {
      text-decoration: underline;
    }
    .strike {
      text-decoration: line-through;
    }
    .code {
      font-family: var(--mono);
    }
  `,
})
export class RichTextView {
  readonly text = input.required<RichText>();

  protected hrefOf(node: Inline): string | null {
    const link = this.marksOf(node).find((m) => m.type === 'link');
    return link && 'attrs' in link ? link.attrs.href : null;
  }

  protected classOf(node: Inline): string {
    return this.marksOf(node)
      .map((m) => m.type)
      .filter((type) => type !== 'link')
      .join(' ');
  }

  private marksOf(node: Inline): Mark[] {
    return node.type === 'text' ? (node.marks ?? []) : [];
  }
}

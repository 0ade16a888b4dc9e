import { Pipe, type PipeTransform } from '@angular/core';
import { figuresIn, inDecimals } from './locale';

/** `'87.4' | decimals`: a number that was worked out, in this person's decimals; empty where there is none. */
@Pipe({ name: 'decimals' })
export class Decimals implements PipeTransform {
  transform(text: string | null | undefined): string {
    return inDecimals(text ?? '');
  }
}

/** `line.detail | figures`: a sentence of a working. */
@Pipe({ name: 'figures' })
export class Figures implements PipeTransform {
  transform(sentence: string | null | undefined): string {
    return figuresIn(sentence ?? '');
  }
}

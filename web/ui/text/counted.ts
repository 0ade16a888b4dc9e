import { Pipe, type PipeTransform } from '@angular/core';
import { counted, formOf } from '@core/words/count';

/** `n | counted: 'score'`: "1 score", "3 scores"; with a second form where it is not one with an s. */
@Pipe({ name: 'counted' })
export class Counted implements PipeTransform {
  transform(n: number, one: string, other?: string): string {
    return counted(n, one, other);
  }
}

/** `n | form: 'is' : 'are'`: what goes with a number, without it. */
@Pipe({ name: 'form' })
export class Form implements PipeTransform {
  transform(n: number, one: string, other: string): string {
    return formOf(n, one, other);
  }
}

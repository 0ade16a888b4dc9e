import { inject, Injectable } from '@angular/core';
import type { AnnotationPage, AnnotationsBrought } from '@contract/work/marks';
import { counted } from '@core/words/count';
import { Api, Refusal } from '../../../data/api';
import { type MarkedPlace } from '../../../data/work/outbox/mark-outbox';
import type { ShownMark } from '../../../data/work/work-marks';
import { fileName, save } from '../../../ui/chart/picture-file';
import { FileBytes } from '../../../viewer/file-bytes';
import { copySource, makeCopy } from '../../../viewer/marks/marked-copy/make-copy';
import { ReadyFiles } from '../../../viewer/ready-files';
import type { WorkFile } from '../../../viewer/work-file';

/** Letters of a file of annotations at most. */
const MOST_TEXT = 4_000_000;

/** Marks that leave the room and come back: a marked copy, and W3C annotations. All refuse with a sentence. */
@Injectable({ providedIn: 'root' })
export class MarkCopies {
  private readonly api = inject(Api);
  private readonly bytes = inject(FileBytes);
  private readonly ready = inject(ReadyFiles);

  /** The work with its marks as a PDF; null: what was typed in the page. */
  async makeMarked(
    file: WorkFile | null,
    title: string,
    marks: readonly ShownMark[],
  ): Promise<{ name: string; bytes: Blob }> {
    // What cannot be shown can be marked on no page: its marks are a sheet.
    const ready = file && (await this.ready.of(file).catch(() => null));
    const source = await copySource(ready, () => this.bytes.of(file!), file?.name ?? title, marks);
    const name = fileName(`${(file?.name ?? title).replace(/\.[^.]*$/, '')} marked`, 'pdf');
    return { name, bytes: new Blob([await makeCopy(source)], { type: 'application/pdf' }) };
  }

  async saveAnnotations(place: MarkedPlace, title: string): Promise<void> {
    const page = await this.api.get<AnnotationPage>(annotationsPath(place));
    save(fileName(`${title} annotations`, 'jsonld'), new Blob([JSON.stringify(page, null, 2)], { type: 'application/ld+json' })); // prettier-ignore
  }

  /** Gives what became of them, in a sentence. */
  async bring(place: MarkedPlace, leaf: string, file: File): Promise<string> {
    if (file.size > MOST_TEXT) throw new Refusal('This file is larger than annotations of one piece of work can be.');
    const text = await file.text();
    if (text.trim() === '') throw new Refusal('This file is empty.');
    const { brought, same, leftOut } = await this.api.send<AnnotationsBrought>('POST', annotationsPath(place), { leaf, text }); // prettier-ignore
    const rest = leftOut.length === 0 ? '' : ` ${counted(leftOut.length, 'is', 'are')} left out; number ${leftOut[0]!.number}: ${leftOut[0]!.why}`; // prettier-ignore
    return `${counted(brought, 'mark')} brought in${same > 0 ? `, ${same} were here already` : ''}.${rest}`;
  }
}

const annotationsPath = (p: MarkedPlace): string => `/books/${p.book}/submissions/${p.submission}/annotations`;

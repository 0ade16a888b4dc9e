import type { Block, Inline, RichText } from '@core/text/rich-text';
import type { Face } from '../../../../kernel/pdf/faces';
import type { TaggedPdf, Words } from '../../../../kernel/pdf/tagged-pdf';

const faceOf = (marks: readonly { type: string }[]): Face => {
  if (marks.some((m) => m.type === 'code')) return 'figure';
  if (marks.some((m) => m.type === 'bold')) return 'bold';
  return marks.some((m) => m.type === 'italic') ? 'italic' : 'text';
};

function wordsOf(content: readonly Inline[] = []): Words[] {
  return content.map((node): Words => {
    if (node.type === 'hardBreak') return { text: '\n' };
    const link = node.marks?.find((m) => m.type === 'link');
    return {
      text: node.text,
      face: faceOf(node.marks ?? []),
      ...(link?.type === 'link' ? { href: link.attrs.href } : {}),
    };
  });
}

/** Text with formatting as paragraphs and lists of the document. */
export async function putRichText(pdf: TaggedPdf, text: RichText): Promise<void> {
  for (const block of text.content) await putBlock(pdf, block, 0);
}

async function putBlock(pdf: TaggedPdf, block: Block, indent: number): Promise<void> {
  switch (block.type) {
    case 'paragraph':
      return block.content?.length ? pdf.paragraph(wordsOf(block.content), { indent }) : undefined;
    case 'heading':
      return pdf.paragraph(
        wordsOf(block.content).map((w) => ({ ...w, face: 'bold' as const })),
        { indent, size: block.attrs.level === 2 ? 12 : 11 },
      );
    case 'blockquote':
      for (const inner of block.content) await putBlock(pdf, inner, indent + 18);
      return;
    case 'bulletList':
    case 'orderedList': {
      let number = 0;
      for (const item of block.content) {
        const [first, ...rest] = item.content;
        const mark = block.type === 'bulletList' ? '•' : `${++number}.`;
        const words = first?.type === 'paragraph' || first?.type === 'heading' ? wordsOf(first.content) : [];
        await pdf.list((put) => put(mark, words), indent);
        for (const inner of words.length > 0 ? rest : item.content) await putBlock(pdf, inner, indent + 20);
      }
    }
  }
}

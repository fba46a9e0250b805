import type { AssetRow } from '@grellin/contract';
import { toBuffer } from 'bwip-js/node';
import PDFDocument from 'pdfkit';
import { fontFile } from '../record';

const MM = 72 / 25.4;

/** How labels lie: on a sheet of self-adhesive ones, or one after another on a tape. */
export const labelForms = {
  /** A4, three across and eight down. */
  sheet: { page: [210, 297], across: 3, down: 8, label: [70, 37.125] },
  /** A tape 62 mm wide. */
  tape: { page: [62, 29], across: 1, down: 1, label: [62, 29] },
} as const;
export type LabelForm = keyof typeof labelForms;

/** What the code of a label says. */
export const labelLink = (base: string, { serial, tag }: Pick<AssetRow, 'serial' | 'tag'>): string =>
  `${base}/to?${new URLSearchParams({ serial, tag }).toString()}`;

/**
 * Labels with a QR code, on a sheet or a tape. The code is a link with the serial and the tag: a phone’s own camera opens the item by it, and where a serial is
 * asked for a scanner that types it has typed the serial.
 * @param base the address of this station, as its people reach it
 * @returns the file's bytes
 */
export async function labels(assets: readonly AssetRow[], form: LabelForm, base: string): Promise<Buffer> {
  const { page, across, down, label } = labelForms[form];
  const doc = new PDFDocument({ size: [page[0] * MM, page[1] * MM], margin: 0, autoFirstPage: false, info: { Title: 'Labels', Creator: 'Grellin' } });
  const chunks: Buffer[] = [];
  doc.on('data', (c: Buffer) => chunks.push(c));
  const ended = new Promise<void>((done, fail) => {
    doc.on('end', done);
    doc.on('error', fail);
  });
  doc.registerFont('text', fontFile('IBMPlexSans-Regular')).registerFont('bold', fontFile('IBMPlexSans-SemiBold'));
  const [w, h] = [label[0] * MM, label[1] * MM];
  for (const [i, a] of assets.entries()) {
    const place = i % (across * down);
    if (place === 0) doc.addPage();
    const [x, y] = [(place % across) * w + 4 * MM, Math.floor(place / across) * h + 4 * MM];
    const code: Buffer = await toBuffer({ bcid: 'qrcode', text: labelLink(base, a), scale: 4 });
    const side = Math.min(h - 8 * MM, 22 * MM);
    doc.image(code, x, y, { width: side });
    const width = w - side - 11 * MM;
    const tx = x + side + 3 * MM;
    doc
      .font('bold')
      .fontSize(15)
      .fillColor('#15211E')
      .text(a.tag, tx, y - 2, { width, height: 18, ellipsis: true });
    doc
      .font('text')
      .fontSize(8)
      .text(a.title, tx, y + 17, { width, height: 22, ellipsis: true });
    doc.text(`serial ${a.serial}`, tx, y + side - 20, { width, height: 10, ellipsis: true });
    doc.text(a.place, tx, y + side - 9, { width, height: 10, ellipsis: true });
  }
  doc.end();
  await ended;
  return Buffer.concat(chunks);
}

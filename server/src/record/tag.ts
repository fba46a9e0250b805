import { codeUrl, type RecordView } from '@grellin/contract';
import { stationDay } from '@grellin/core';
import { toBuffer } from 'bwip-js/node';
import PDFDocument from 'pdfkit';
import { fontFile } from './certificate';
import type { Issue } from './paper';

/** A tag to tie to an item that must not be used: A6, readable at arm's length. @returns the file's bytes */
export async function doNotUseTag(r: RecordView, why: string, leaks: readonly string[], { base, zone }: Issue): Promise<Buffer> {
  const doc = new PDFDocument({ size: 'A6', layout: 'landscape', margin: 22, info: { Title: `Do not use: ${r.tag}`, Creator: 'Grellin' } });
  const chunks: Buffer[] = [];
  doc.on('data', (c: Buffer) => chunks.push(c));
  const ended = new Promise<void>((done, fail) => {
    doc.on('end', done);
    doc.on('error', fail);
  });
  doc.registerFont('text', fontFile('IBMPlexSans-Regular')).registerFont('bold', fontFile('IBMPlexSans-SemiBold'));
  const { width, height } = doc.page;
  // A frame with a gap, as the seal of what leaks; the hole for the string is left free.
  doc.lineWidth(6).strokeColor('#15211E').moveTo(width * 0.62, 10).lineTo(width - 10, 10).lineTo(width - 10, height - 10).lineTo(10, height - 10).lineTo(10, 10).lineTo(width * 0.5, 10).stroke(); // prettier-ignore
  doc.font('bold').fontSize(30).fillColor('#A8261D').text('DO NOT USE', 26, 24);
  doc.fontSize(22).fillColor('#15211E').text(r.tag, 26, 64);
  doc
    .font('text')
    .fontSize(9)
    .text(`${r.assetTitle}, serial ${r.serial}`, 26, 92, { width: width - 150 });
  doc
    .moveDown(0.4)
    .font('bold')
    .fontSize(10)
    .text(`${r.procedureTitle}: ${r.word}`, { width: width - 150 });
  doc
    .font('text')
    .fontSize(9)
    .text(why, { width: width - 150 });
  for (const one of leaks) doc.text(one, { width: width - 150 });
  doc.moveDown(0.4).text(`${stationDay(Date.parse(r.sealedAt), zone)}, ${r.by}, ${r.number}`, { width: width - 150 });
  if (r.simulated) doc.font('bold').text(r.practice ? 'SIMULATED, practice item' : 'SIMULATED');
  const png: Buffer = await toBuffer({ bcid: 'qrcode', text: codeUrl(base, r), scale: 3 });
  doc.image(png, width - 112, 64, { width: 86 });
  doc.font('text').fontSize(7.5).fillColor('#4B5A55').text('Repair, then a retest that passes takes this tag off. The maker’s instructions and the local code come first.', 26, height - 34, { width: width - 60 }); // prettier-ignore
  doc.end();
  await ended;
  return Buffer.concat(chunks);
}

import { createRequire } from 'node:module';
import { codeUrl, type RecordView } from '@grellin/contract';
import {
  confidenceFrom,
  confidenceInWords,
  findingInWords,
  reasonInWords,
  stationDay,
  stationTime,
  verdictSentence,
  curveInWords,
  type Curve,
  type Finding,
  type Plan,
  inBox,
} from '@grellin/core';
import { toBuffer } from 'bwip-js/node';
import PDFDocument from 'pdfkit';
import type { Issue } from './paper';

const require = createRequire(import.meta.url);
// WOFF, not WOFF2: an embedded WOFF2 leaves the page silently blank.
export const fontFile = (name: string): string => require.resolve(`@ibm/plex-sans/fonts/complete/woff/${name}.woff`);
const figures = require.resolve('@fontsource/b612/files/b612-latin-700-normal.woff');

const INK = '#15211E';
const FAINT = '#4B5A55';
const RULE = '#B7C2BD';
const LEFT = 56;
const WIDTH = 483;

type Doc = InstanceType<typeof PDFDocument>;

/** The four seals: told apart by shape, never by colour alone. */
function seal(doc: Doc, verdict: RecordView['verdict'], x: number, y: number, r: number): void {
  const colour = { pass: '#1C6B3F', fail: '#A8261D', undecided: '#8A5A00', void: '#5B6570' }[verdict];
  doc
    .save()
    .lineWidth(r * 0.38)
    .strokeColor(colour);
  if (verdict === 'fail') {
    // A ring with a gap at its upper right, and what escapes through it.
    const from = (-25 * Math.PI) / 180;
    const to = (-75 * Math.PI) / 180;
    doc.path(`M ${x + r * Math.cos(from)} ${y + r * Math.sin(from)} A ${r} ${r} 0 1 1 ${x + r * Math.cos(to)} ${y + r * Math.sin(to)}`).stroke();
    doc
      .lineWidth(r * 0.22)
      .dash(r * 0.2, { space: r * 0.16 })
      .moveTo(x + r * 0.6, y - r * 0.62)
      .lineTo(x + r * 1.05, y - r * 1.15)
      .stroke();
  } else {
    if (verdict === 'undecided') doc.dash(r * 0.57, { space: r * 0.47 });
    if (verdict === 'void') doc.lineWidth(r * 0.28);
    doc.circle(x, y, r).stroke();
    if (verdict === 'void')
      doc
        .moveTo(x - r * 0.8, y + r * 0.8)
        .lineTo(x + r * 0.8, y - r * 0.8)
        .stroke();
  }
  doc.undash().restore();
}

/** The hold that decided, drawn small. */
function drawn(doc: Doc, { points }: Curve, x: number, y: number, width: number, height: number): void {
  doc.save().lineWidth(0.6).strokeColor(RULE).rect(x, y, width, height).stroke();
  doc.lineWidth(1.4).strokeColor(INK);
  inBox(points, { width, height, margin: 0 }).forEach(([px, py], i) => (i === 0 ? doc.moveTo(x + px, y + py) : doc.lineTo(x + px, y + py)));
  doc.stroke().restore();
}

function line(doc: Doc, label: string, value: string): void {
  const y = doc.y;
  doc.font('text').fontSize(9).fillColor(FAINT).text(label, LEFT, y, { width: 120 });
  doc
    .font('text')
    .fontSize(10)
    .fillColor(INK)
    .text(value, LEFT + 124, y, { width: WIDTH - 124 });
  doc.moveDown(0.25);
}

function heading(doc: Doc, text: string): void {
  doc.moveDown(0.6);
  doc.font('bold').fontSize(11).fillColor(INK).text(text, LEFT, doc.y, { width: WIDTH });
  doc
    .moveTo(LEFT, doc.y + 2)
    .lineTo(LEFT + WIDTH, doc.y + 2)
    .lineWidth(0.8)
    .strokeColor(INK)
    .stroke();
  doc.y += 8;
}

function finding(doc: Doc, plan: Plan, f: Finding): void {
  const stage = plan.stages.find((s) => s.id === f.stage);
  const channel = f.channel === null ? '' : ` · ${plan.procedure.channels[f.channel]?.title ?? f.channel}`;
  if (doc.y > 700) doc.addPage();
  const y = doc.y;
  seal(doc, f.verdict, LEFT + 6, y + 7, 4.5);
  doc
    .font('bold')
    .fontSize(10)
    .fillColor(INK)
    .text(`${stage?.title ?? f.stage}${channel}`, LEFT + 20, y, { width: WIDTH - 20 });
  doc
    .font('text')
    .fontSize(9.5)
    .text(findingInWords(f), { width: WIDTH - 20 });
  const [sure, from] = [confidenceInWords(f), confidenceFrom(f)];
  const notes = [
    ...(sure === null ? [] : [`${sure} (${from ?? ''})`]),
    ...f.reasons.slice(1).map(reasonInWords),
    ...(f.limit ? [`Limit from ${f.limit.source.title}${f.limit.source.clause ? `, ${f.limit.source.clause}` : ''}`] : []),
  ];
  doc
    .fontSize(8.5)
    .fillColor(FAINT)
    .text(notes.join('. '), { width: WIDTH - 20 });
  doc.moveDown(0.4);
}

const PICTURE_WIDTH = 232;
const PICTURE_HEIGHT = 174;
/** The foot of the page, below which no picture begins. */
const FOOT = 786;

/** Pictures two and two, each with what it is of beneath it; the head of its digest lets it be held against what is kept. */
function pictured(doc: Doc, pictures: RecordView['pictures'], bytes: readonly Uint8Array[], zone: string): void {
  if (doc.y + PICTURE_HEIGHT + 70 > FOOT) doc.addPage();
  heading(doc, 'Pictures');
  let y = doc.y;
  for (const [i, p] of pictures.entries()) {
    const left = i % 2 === 0;
    if (left && y + PICTURE_HEIGHT + 44 > FOOT) {
      doc.addPage();
      y = doc.y;
    }
    const x = left ? LEFT : LEFT + WIDTH - PICTURE_WIDTH;
    doc.image(Buffer.from(bytes[i] ?? []), x, y, { fit: [PICTURE_WIDTH, PICTURE_HEIGHT] });
    const words = `${p.title}${p.note === null ? '' : `. ${p.note}`}. ${p.by}, ${stationTime(Date.parse(p.at), zone)}. SHA-256 ${p.sha256.slice(0, 12)}…`;
    doc
      .font('text')
      .fontSize(8)
      .fillColor(FAINT)
      .text(words, x, y + PICTURE_HEIGHT + 4, { width: PICTURE_WIDTH, height: 32, ellipsis: true });
    if (!left || i === pictures.length - 1) y += PICTURE_HEIGHT + 44;
  }
  doc.x = LEFT;
  doc.y = y;
}

/**
 * The certificate of a record, as a PDF. Its code opens the page that verifies it, with the head of its chain behind the `#`.
 * @param pictures the bytes of the record's pictures, in their order
 * @returns the file's bytes
 */
export async function certificate(r: RecordView, plan: Plan, pictures: readonly Uint8Array[], { base, zone }: Issue): Promise<Buffer> {
  const doc = new PDFDocument({
    size: 'A4',
    margins: { top: 48, bottom: 48, left: LEFT, right: LEFT },
    info: { Title: `${r.number} ${r.tag}`, Creator: 'Grellin' },
  });
  const chunks: Buffer[] = [];
  doc.on('data', (c: Buffer) => chunks.push(c));
  const ended = new Promise<void>((done, fail) => {
    doc.on('end', done);
    doc.on('error', fail);
  });
  doc.registerFont('text', fontFile('IBMPlexSans-Regular')).registerFont('bold', fontFile('IBMPlexSans-SemiBold')).registerFont('figures', figures);

  doc
    .circle(LEFT + 9, 60, 7.5)
    .lineWidth(3)
    .strokeColor(INK)
    .stroke();
  doc
    .font('bold')
    .fontSize(12)
    .fillColor(INK)
    .text('Grellin', LEFT + 24, 52);
  doc
    .font('text')
    .fontSize(9)
    .fillColor(FAINT)
    .text('Certificate of a leak check', LEFT + 24, 67);
  doc.font('figures').fontSize(13).fillColor(INK).text(r.number, LEFT, 54, { width: WIDTH, align: 'right' });
  if (r.simulated)
    doc
      .font('bold')
      .fontSize(10)
      .fillColor('#8A5A00')
      .text(r.practice ? 'SIMULATED · practice item' : 'SIMULATED', LEFT, 72, { width: WIDTH, align: 'right' });

  seal(doc, r.verdict, LEFT + 24, 132, 18);
  doc
    .font('bold')
    .fontSize(26)
    .fillColor(INK)
    .text(verdictSentence(r.tag, r.verdict, r.word), LEFT + 60, 108);
  doc
    .font('text')
    .fontSize(11)
    .fillColor(INK)
    .text(r.disposition, LEFT + 60, 142, { width: 300 });
  const png: Buffer = await toBuffer({ bcid: 'qrcode', text: codeUrl(base, r), scale: 3 });
  doc.image(png, LEFT + WIDTH - 96, 96, { width: 96 });

  doc.y = 204;
  line(doc, 'Item', `${r.assetTitle}, serial ${r.serial}`);
  line(doc, 'Procedure', `${r.procedureTitle}, edition ${plan.procedure.edition}`);
  line(doc, 'Rule set', `${r.ruleSetTitle}, edition ${plan.ruleSet.edition}; decision rule: ${plan.ruleSet.decision.kind}`);
  line(doc, 'Tested by', `${r.by}, ${stationTime(Date.parse(r.sealedAt), zone)} (${zone})`);
  line(doc, 'Next due', r.nextDue ?? (r.verdict === 'pass' ? 'nothing owed' : 'unchanged: this run does not release the item'));
  if (r.allowancePercent !== null) line(doc, 'Allowance used', `${r.allowancePercent} %`);
  for (const i of r.instruments)
    line(doc, i.channel, `${i.tag}, ${i.title}; ${i.fitted ? 'fitted to the item' : `calibration to ${i.calibrationDue ?? 'no date'}`}`);
  if (r.attempts > 0) line(doc, 'Earlier attempts', `${r.attempts} in this run; they stay in the record`);

  for (const list of r.told) {
    heading(doc, list.title);
    for (const thing of list.things) line(doc, thing.name, thing.words);
  }
  for (const c of r.curves) {
    if (doc.y > 680) doc.addPage();
    heading(doc, `${c.title}: ${curveInWords(c)}`);
    drawn(doc, c, LEFT, doc.y, WIDTH, 64);
    doc.y += 72;
  }
  heading(doc, 'Findings');
  for (const f of r.findings) finding(doc, plan, f);
  if (r.reasons.length > 0) {
    heading(doc, 'What was said');
    for (const g of r.reasons) {
      if (doc.y > 720) doc.addPage();
      line(doc, `${stationDay(Date.parse(g.at), zone)} ${g.by}`, `${g.said}: ${g.reason}`);
    }
  }
  if (r.pictures.length > 0) pictured(doc, r.pictures, pictures, zone);
  doc.moveDown(0.6);
  if (doc.y > 690) doc.addPage();
  doc.font('text').fontSize(8).fillColor(FAINT);
  doc.text(
    'This test does not replace the maker’s instructions, the local code or licensed practice. Compressed gas and pressure can kill: a passed test says how the item was then, not how it is after a knock, a repair or long storage.',
    LEFT,
    doc.y,
    { width: WIDTH },
  );
  doc.moveDown(0.4).text(`Head of the chain of events: ${r.head}`, { width: WIDTH });
  doc.end();
  await ended;
  return Buffer.concat(chunks);
}

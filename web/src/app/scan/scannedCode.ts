/** What a code that was read says of an item. */
export interface ScannedCode {
  /** What is to be typed where the serial on the item is asked for. */
  readonly serial: string;
  /** The tag, where one of our own labels says it. */
  readonly tag: string | null;
}

/** GS1 General Specifications: (01) an article's number of 14 digits, (21) its serial, up to 20 signs, ended by the separator or the end of the code. */
const GS1 = /^(?:\][dCQ][0-9])?(?:\u001d)?01\d{14}(?:(?:11|15|17)\d{6})?21([^\u001d]{1,20})/;
/** Printed with its application identifiers in brackets, as people read it. */
const GS1_IN_WORDS = /^\(01\)\d{14}(?:\((?:11|15|17)\)\d{6})?\(21\)([^(]{1,20})/;

/**
 * What a scanned text means: the link of one of our labels, a maker's GS1 code with a serial in it, or the serial itself.
 * @example scannedCode('0104012345678901211234AB\u001d10LOT') // serial '1234AB'
 */
export function scannedCode(text: string): ScannedCode {
  const said = text.trim();
  try {
    const url = new URL(said);
    const serial = url.searchParams.get('serial');
    if (/^https?:$/.test(url.protocol) && url.pathname === '/to' && serial !== null) return { serial, tag: url.searchParams.get('tag') };
  } catch {
    // no address: read on
  }
  const [, serial] = GS1.exec(said) ?? GS1_IN_WORDS.exec(said) ?? [];
  return { serial: serial ?? said, tag: null };
}

/** Spaces, dashes and case do not tell two serials apart: a scanner and a person write them differently. */
export const plainSerial = (serial: string): string => serial.replace(/[\s-]/g, '').toUpperCase();

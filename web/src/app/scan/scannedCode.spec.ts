import { describe, expect, it } from 'vitest';
import { plainSerial, scannedCode } from './scannedCode';

describe('a scanned text', () => {
  it.each([
    ['our label', 'https://leaks.example/to?serial=SV-1204&tag=GS-01', 'SV-1204', 'GS-01'],
    ['our label, a serial that an address must write otherwise', 'http://10.0.0.7:4600/to?serial=A%2F7+%26B&tag=GS-01', 'A/7 &B', 'GS-01'],
    ['a bare serial', ' SV-1204 ', 'SV-1204', null],
    ['GS1 Data Matrix, serial to the separator', '0104012345678901211234AB\u001d10LOT7', '1234AB', null],
    ['GS1 Data Matrix, made on a day', '01040123456789011124030521XY-9', 'XY-9', null],
    ['GS1 as a reader with its symbology tells it', ']d20104012345678901217788', '7788', null],
    ['GS1 as it is printed', '(01)04012345678901(21)1234AB(10)LOT7', '1234AB', null],
    // What only looks like one of them is the serial it is.
    ['another address', 'https://elsewhere.example/login?serial=SV-1204', 'https://elsewhere.example/login?serial=SV-1204', null],
    ['a script', 'javascript:alert(1)//to?serial=1', 'javascript:alert(1)//to?serial=1', null],
    ['a serial that begins like an article', '0104012', '0104012', null],
  ])('%s', (_what, text, serial, tag) => {
    expect(scannedCode(text)).toEqual({ serial, tag });
  });

  it('tells no two serials apart by spaces, dashes or case', () => {
    expect(plainSerial('sv 12-04')).toBe(plainSerial('SV1204'));
  });
});

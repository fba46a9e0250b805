/** What the tests use of the library, which has no types of its own. */
declare module '@lhncbc/ucum-lhc' {
  export class UcumLhcUtils {
    static getInstance(): UcumLhcUtils;
    validateUnitString(code: string): { readonly status: 'valid' | 'invalid' | 'error' };
    convertUnitTo(from: string, value: number, to: string): { readonly status: string; readonly toVal: number | null };
  }
}

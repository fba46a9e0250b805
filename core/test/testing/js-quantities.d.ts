declare module 'js-quantities' {
  /** The part of the package that the tests use. */
  export default class Qty {
    constructor(text: string);
    readonly scalar: number;
    to(unit: string): Qty;
  }
}

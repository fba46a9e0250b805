/** Bytes as text, where only text can be kept. */
export const base64 = (all: Uint8Array): string => btoa(Array.from(all, (b) => String.fromCharCode(b)).join(''));
export const fromBase64 = (text: string): Uint8Array<ArrayBuffer> => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));

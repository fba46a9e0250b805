export function dump(url: string, file: string): void;
export function isBare(url: string): boolean;
export function restore(url: string, file: string): void;

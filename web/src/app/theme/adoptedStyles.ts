import { DOCUMENT, inject, Injectable } from '@angular/core';
import { ɵSharedStylesHost as SharedStylesHost } from '@angular/platform-browser';
import { UseStyle } from 'primeng/usestyle';

/**
 * The sheets that come with components while the application runs. They are constructed and adopted by the document, and no style element is ever made: so the
 * page's policy needs neither a nonce nor an exception, and the page is the same file for everybody, which a service worker can keep.
 */
@Injectable({ providedIn: 'root' })
export class AdoptedSheets {
  private readonly document = inject(DOCUMENT);

  /** Adopts a sheet, behind all others or before them. */
  adopt(css: string, first = false): CSSStyleSheet {
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(css);
    const all = this.document.adoptedStyleSheets;
    this.document.adoptedStyleSheets = first ? [sheet, ...all] : [...all, sheet];
    return sheet;
  }

  drop(sheet: CSSStyleSheet): void {
    this.document.adoptedStyleSheets = this.document.adoptedStyleSheets.filter((s) => s !== sheet);
  }
}

/** Where Angular puts the styles of its components: in sheets that are adopted as long as somebody uses them. */
@Injectable()
export class AdoptedComponentStyles extends SharedStylesHost {
  private readonly sheets = inject(AdoptedSheets);
  private readonly used = new Map<string, { readonly sheet: CSSStyleSheet; users: number }>();

  constructor() {
    super(inject(DOCUMENT), 'gr');
  }

  override addStyles(styles: string[], urls?: string[]): void {
    if (urls && urls.length > 0) super.addStyles([], urls);
    for (const css of styles) {
      const held = this.used.get(css);
      if (held) held.users += 1;
      else this.used.set(css, { sheet: this.sheets.adopt(css), users: 1 });
    }
  }

  override removeStyles(styles: string[], urls?: string[]): void {
    if (urls && urls.length > 0) super.removeStyles([], urls);
    for (const css of styles) {
      const held = this.used.get(css);
      if (!held) continue;
      held.users -= 1;
      if (held.users > 0) continue;
      this.sheets.drop(held.sheet);
      this.used.delete(css);
    }
  }
}

type Use = ReturnType<UseStyle['use']>;

/** Where PrimeNG puts the styles of its theme and its components: one sheet a name, written over when it changes. */
@Injectable()
export class AdoptedThemeStyles extends UseStyle {
  private readonly sheets = inject(AdoptedSheets);
  private readonly named = new Map<string, { readonly sheet: CSSStyleSheet; css: string }>();

  override use(css: string, options: { readonly name?: string; readonly id?: string; readonly first?: boolean } = {}): Use {
    const { name = `style ${String(this.named.size)}`, id, first = false } = options;
    const held = this.named.get(name);
    if (!held) this.named.set(name, { sheet: this.sheets.adopt(css, first), css });
    else if (held.css !== css) {
      held.sheet.replaceSync(css);
      held.css = css;
    }
    return { id, name, el: null, css } as unknown as Use;
  }
}

import { definePreset } from '@primeuix/themes';
import Aura from '@primeuix/themes/aura';

const petrol = {
  50: '#eef7f7',
  100: '#d3eaeb',
  200: '#a6d4d6',
  300: '#6fc2c6',
  400: '#3f9aa0',
  500: '#1f7a81',
  600: '#0f5f66',
  700: '#0c4d53',
  800: '#0a3d42',
  900: '#082f33',
  950: '#051f22',
};

const scheme = {
  primary: { color: 'var(--accent)', contrastColor: 'var(--on-accent)', hoverColor: 'var(--accent)', activeColor: 'var(--accent)' },
  text: { color: 'var(--ink)', hoverColor: 'var(--ink)', mutedColor: 'var(--faint)', hoverMutedColor: 'var(--faint)' },
  content: { background: 'var(--panel)', hoverBackground: 'var(--soft)', borderColor: 'var(--rule)', color: 'var(--ink)', hoverColor: 'var(--ink)' },
  formField: { background: 'var(--panel)', borderColor: 'var(--faint)', color: 'var(--ink)', placeholderColor: 'var(--faint)' },
  overlay: { select: { background: 'var(--panel)', borderColor: 'var(--rule)', color: 'var(--ink)' } },
  list: {
    option: {
      focusBackground: 'var(--soft)',
      selectedBackground: 'var(--soft)',
      selectedFocusBackground: 'var(--soft)',
      color: 'var(--ink)',
      focusColor: 'var(--ink)',
      selectedColor: 'var(--ink)',
      selectedFocusColor: 'var(--ink)',
    },
  },
};

/** A key that is not the main one: drawn by its edge, as every control of the bench. */
const secondaryKey = {
  background: 'var(--panel)',
  hoverBackground: 'var(--soft)',
  activeBackground: 'var(--soft)',
  borderColor: 'var(--faint)',
  hoverBorderColor: 'var(--ink)',
  activeBorderColor: 'var(--ink)',
  color: 'var(--ink)',
  hoverColor: 'var(--ink)',
  activeColor: 'var(--ink)',
};

/** One of a few that are chosen between: the chosen one as ink on paper turned over. */
const choiceKey = {
  root: {
    background: 'var(--soft)',
    checkedBackground: 'var(--soft)',
    hoverBackground: 'var(--soft)',
    borderColor: 'var(--soft)',
    checkedBorderColor: 'var(--soft)',
    color: 'var(--ink)',
    hoverColor: 'var(--ink)',
    checkedColor: 'var(--panel)',
  },
  content: { checkedBackground: 'var(--ink)' },
};

/** PrimeNG in Grellin's own enamel and petrol; every colour points at a token of styles.css, so light and dark are one definition. */
export const grellinPreset = definePreset(Aura, {
  primitive: { borderRadius: { none: '0', xs: 'var(--radius)', sm: 'var(--radius)', md: 'var(--radius)', lg: 'var(--radius)', xl: 'var(--radius)' } },
  semantic: {
    primary: petrol,
    focusRing: { width: 'var(--strong-edge)', style: 'solid', color: 'var(--accent)', offset: 'var(--edge)' },
    formField: { paddingX: 'var(--space-3)', paddingY: 'var(--space-3)' },
    // The tokens themselves change with the theme, so one scheme serves both.
    colorScheme: { light: scheme, dark: scheme },
  },
  components: {
    button: {
      colorScheme: {
        light: { root: { secondary: secondaryKey } },
        dark: { root: { secondary: secondaryKey } },
      },
    },
    togglebutton: {
      content: { checkedShadow: 'none' },
      colorScheme: { light: choiceKey, dark: choiceKey },
    },
    datatable: {
      headerCell: {
        background: 'var(--ground)',
        hoverBackground: 'var(--soft)',
        color: 'var(--ink)',
        selectedBackground: 'var(--soft)',
        selectedColor: 'var(--ink)',
        padding: 'var(--space-2) var(--space-3)',
        borderColor: 'var(--ink)',
      },
      bodyCell: { padding: 'var(--space-2) var(--space-3)', borderColor: 'var(--rule)' },
      row: { background: 'var(--ground)', hoverBackground: 'var(--soft)', color: 'var(--ink)', hoverColor: 'var(--ink)' },
    },
  },
});

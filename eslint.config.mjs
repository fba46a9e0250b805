import ngrx from '@ngrx/eslint-plugin/v9';
import angular from 'angular-eslint';
import { defineConfig } from 'eslint/config';
import tseslint from 'typescript-eslint';

/** Attributes whose values are names for the machine and no words. */
const machineNames = [
  'accept', 'appendTo', 'ariaLabelledBy', 'aria-autocomplete', 'aria-controls', 'aria-describedby', 'aria-haspopup', 'aria-labelledby', 'aria-live', 'ariaCurrentWhenActive', 'autocapitalize',
  'd', 'dataKey', 'dataType', 'dateFormat', 'field', 'filterBy', 'fragment', 'inputId', 'inputmode', 'kind', 'mode', 'optionLabel', 'optionValue', 'pSortableColumn', 'position', 'rel', 'scope', 'severity', 'sortField', 'text-anchor',
]; // prettier-ignore

export default defineConfig(
  { ignores: ['web/vitest.config.ts', '**/dist/', '**/.angular/', '**/*.mjs', '**/*.cjs', '**/*.js', 'server/drizzle/', 'e2e/results/', '.data'] },
  {
    files: ['**/*.ts'],
    extends: [tseslint.configs.strictTypeChecked],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true, ignoreVoidOperator: true }],
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-extraneous-class': ['error', { allowWithDecorator: true }],
    },
  },
  {
    files: ['web/src/**/*.ts'],
    extends: [angular.configs.tsRecommended, ngrx.configs.all],
    processor: angular.processInlineTemplates,
    rules: {
      '@angular-eslint/prefer-on-push-component-change-detection': 'error',
      '@angular-eslint/component-selector': ['error', { type: 'element', prefix: 'gr', style: 'kebab-case' }],
    },
  },
  {
    files: ['web/src/app/**/*.html'],
    extends: [angular.configs.templateRecommended, angular.configs.templateAccessibility],
    rules: {
      // Every word on a screen stands in the catalogue of texts (web/locale): a template that says something says it with i18n.
      '@angular-eslint/template/i18n': [
        'error',
        {
          checkId: false,
          checkText: true,
          checkAttributes: true,
          ignoreAttributes: machineNames,
          boundTextAllowedPattern: '[^\\p{L}]*',
        },
      ],
    },
  },
);

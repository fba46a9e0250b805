export { gaugeFacts, gaugeFigures, type GaugeFacts, type GaugeFigure } from './gaugeFacts';
export {
  byName,
  isNeeded,
  itemFacts,
  itemField,
  itemFieldNames,
  itemFields,
  type ChangedBy,
  type ItemFacts,
  type ItemField,
  type ItemFieldKind,
  type ItemFieldName,
  type ItemFieldValue,
} from './itemFields';
export { pastedThings, type Pasted } from './pasted';

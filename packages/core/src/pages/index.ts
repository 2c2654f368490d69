export {
  distinctNames,
  fileNameOf,
  NAME_FIELDS,
  type NameField,
  type NameValues,
  safeFileName,
  safeName,
  USUAL_PATTERN,
} from './file-names.js';
export { escapeHtml, fileUrl } from './html.js';
export { CHECKERBOARD, pageOf } from './page.js';
export {
  type ComparedFile,
  MOST_COMPARED,
  SIDE_BY_SIDE_SCRIPT,
  SIDE_BY_SIDE_STYLE,
  type SideBySideParts,
  sideBySidePage,
} from './side-by-side.js';
export {
  bestSnippet,
  type PageFile,
  SNIPPET_WAYS,
  SNIPPETS,
  type SnippetName,
  type SnippetOptions,
  shownBy,
  snippetOf,
  takenFrom,
} from './snippet.js';

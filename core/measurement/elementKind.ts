const ROLES: Record<string, string> = {
  button: 'button',
  link: 'link',
  heading: 'heading',
  img: 'picture',
  list: 'list',
  listitem: 'list item',
  navigation: 'navigation',
  dialog: 'dialog',
  tab: 'tab',
  menuitem: 'menu item',
}
const TAGS: Record<string, string> = {
  a: 'link',
  article: 'article',
  aside: 'side note',
  blockquote: 'quotation',
  button: 'button',
  dd: 'description',
  div: 'box',
  dl: 'list',
  dt: 'term',
  em: 'emphasis',
  fieldset: 'group of fields',
  figcaption: 'caption',
  figure: 'figure',
  footer: 'footer',
  form: 'form',
  h1: 'heading',
  h2: 'heading',
  h3: 'heading',
  h4: 'heading',
  h5: 'heading',
  h6: 'heading',
  header: 'header',
  hr: 'line',
  iframe: 'frame',
  img: 'picture',
  input: 'field',
  label: 'label',
  legend: 'legend',
  li: 'list item',
  main: 'main part',
  nav: 'navigation',
  ol: 'list',
  option: 'option',
  p: 'paragraph',
  picture: 'picture',
  pre: 'code',
  section: 'section',
  select: 'choice',
  small: 'small print',
  span: 'text',
  strong: 'emphasis',
  summary: 'summary',
  svg: 'drawing',
  table: 'table',
  td: 'cell',
  textarea: 'field',
  th: 'column title',
  tr: 'row',
  ul: 'list',
  video: 'video',
}

/**
 * What kind of thing an element is, as a person would say.
 *
 * @param tag - in lower case
 * @param role - that the page gives it; goes before the tag
 * @example elementKind('h2') // 'heading'
 * @example elementKind('div', 'button') // 'button'
 */
export function elementKind(tag: string, role?: string | null): string {
  return (role && ROLES[role]) || TAGS[tag] || tag
}

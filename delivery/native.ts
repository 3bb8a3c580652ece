/**
 * A node whose properties are read and called as the browser defines them. A form answers with its fields for their
 * names: `form.children` may be an input of that name; and a document with its images and forms.
 *
 * What this returns is for reading on the spot: it is not the node itself. Nothing else may read such properties; see
 * `lint/nativeReads.js`.
 *
 * @example native(form).children // its elements
 */
export function native<Of extends EventTarget | null | undefined>(node: Of): Of {
  return node instanceof HTMLFormElement ? (new Proxy(node, asDefined) as Of) : node
}

const asDefined: ProxyHandler<object> = {
  get(of, key) {
    let value = Reflect.get(of, key) as unknown
    // Names hide by elements; where a page itself says something else of the document, that holds for us, too.
    if (Object(value) === value) value = Reflect.get(Object.getPrototypeOf(of) as object, key, of)
    return typeof value === 'function' ? (value.bind(of) as unknown) : value
  },
}

/** The document, read so. */
export const nativeDocument = new Proxy<Document>(document, asDefined)

import { convertSchema } from '@sodaru/yup-to-json-schema'
import { parametersOf, TEXT_PARAMETERS, type Access, type Operation } from './operation'
import { OPERATIONS } from './operations'

const ACCESS_WORDS: Record<Access, string> = {
  anyone: 'Anybody may call it.',
  person: 'For whoever is signed in.',
  'organisation-owner': 'For the owner of an organization.',
  viewer: 'For members of the site: viewers, editors and owners.',
  editor: 'For editors and owners of the site.',
  owner: 'For owners of the site.',
}

/** Description of the API in the OpenAPI 3.1 format, made from the operations and the schemas that check input. */
export function openApi(version: string) {
  const paths: Record<string, Record<string, unknown>> = {}
  for (const [operationId, operation] of Object.entries(OPERATIONS) as [string, Operation][]) {
    const { method, path, access, summary, body, query, reply, produces = 'application/json' } = operation
    const fields = query
      ? Object.entries((convertSchema(query) as { properties?: Record<string, object> }).properties ?? {})
      : []
    paths[path] ??= {}
    paths[path][method] = {
      operationId,
      summary,
      description: ACCESS_WORDS[access],
      parameters: [
        ...parametersOf(path).map((name) => ({
          name,
          in: 'path',
          required: true,
          schema: { type: (TEXT_PARAMETERS as readonly string[]).includes(name) ? 'string' : 'integer' },
        })),
        ...fields.map(([name, schema]) => ({ name, in: 'query', required: false, schema })),
      ],
      ...(body
        ? { requestBody: { required: true, content: { 'application/json': { schema: convertSchema(body) } } } }
        : {}),
      security: securityOf(access),
      responses: {
        200: {
          description: 'Done',
          content: { [produces]: reply.schema ? { schema: convertSchema(reply.schema) } : {} },
        },
        ...(body ? { 422: { description: 'The input is wrong; `fields` says where' } } : {}),
        ...(access === 'anyone'
          ? {}
          : {
              401: { description: 'Nobody is signed in' },
              403: { description: 'The role does not allow it' },
              404: { description: 'There is no such thing, or it is not yours' },
            }),
      },
    }
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Vetch', version, license: { name: 'MIT', identifier: 'MIT' } },
    paths,
    components: {
      securitySchemes: {
        session: { type: 'apiKey', in: 'cookie', name: 'vetch_account' },
        token: { type: 'http', scheme: 'bearer' },
      },
    },
  }
}

/** Whoever is signed in; below a site also a program with a token. */
function securityOf(access: Access): object[] {
  if (access === 'anyone') return []
  const isOfSite = access !== 'person' && access !== 'organisation-owner'
  return [{ session: [] }, ...(isOfSite ? [{ token: [] }] : [])]
}

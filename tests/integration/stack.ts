import type { TestProject } from 'vitest/node'
import { startTemporaryStack } from '../../cli/stack/temporaryStack'

declare module 'vitest' {
  interface ProvidedContext {
    url: string
    databaseUrl: string
  }
}

/** One database and application for all integration tests that do not break them. */
export default async function setup(project: TestProject) {
  const stack = await startTemporaryStack()
  project.provide('url', stack.url)
  project.provide('databaseUrl', stack.cluster.url)
  return stack.stop
}

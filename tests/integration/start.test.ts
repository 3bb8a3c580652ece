import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, describe, expect, test } from 'vitest'
import { freePort } from '../../cli/stack/ports'

/** Longer than the slowest machine takes: only what hangs takes as long. */
const HANGS = 600_000
const folder = mkdtempSync(join(tmpdir(), 'vetch-start-'))
// The database's user has to be let in.
chmodSync(folder, 0o755)
const children: ChildProcess[] = []
const ended = (child: ChildProcess) => new Promise((done) => child.once('exit', done))
afterAll(async () => {
  for (const child of children.filter(({ exitCode, signalCode }) => exitCode === null && signalCode === null)) {
    child.kill('SIGINT')
    await ended(child)
  }
  rmSync(folder, { recursive: true, force: true })
})

const command = (args: string[]) =>
  [process.execPath, ['--import', 'tsx', 'cli/main.ts', 'start', '--no-demo', '--data', folder, ...args]] as const

/** Starts Vetch and resolves once it answers. */
async function start(port: number): Promise<ChildProcess> {
  const [program, args] = command(['--port', String(port)])
  const child = spawn(program, args, { stdio: ['ignore', 'pipe', 'ignore'] })
  children.push(child)
  let printed = ''
  await new Promise<void>((answers, fails) => {
    child.stdout.on('data', (chunk) => {
      printed += chunk
      if (printed.includes('Ctrl-C stops everything.')) answers()
    })
    child.once('exit', () => fails(new Error(`Vetch did not start: ${printed}`)))
  })
  return child
}
function refusal(args: string[]): { code: number | null; message: string } {
  const [program, all] = command(args)
  const ended = spawnSync(program, all, { encoding: 'utf8', timeout: HANGS })
  return { code: ended.status, message: ended.stderr }
}
describe('./vetch start', () => {
  test(
    'serves, refuses a second start on the same data, survives kill -9, keeps its data and stops on Ctrl-C',
    async () => {
      const port = await freePort()
      const first = await start(port)
      const owner = {
        name: 'Mara',
        email: 'mara@start.example',
        organisation: 'Start',
        password: 'a-long-enough-password',
      }
      expect(
        (
          await fetch(`http://127.0.0.1:${port}/api/account/owner`, {
            method: 'POST',
            body: JSON.stringify(owner),
            headers: { 'content-type': 'application/json' },
          })
        ).status,
      ).toBe(200)
      expect(refusal(['--port', String(await freePort())])).toMatchObject({
        code: 1,
        message: expect.stringMatching(/running already .* Stop it first/),
      })

      first.kill('SIGKILL')
      await ended(first)
      const second = await start(port)
      const account = await (await fetch(`http://127.0.0.1:${port}/api/account`)).json()
      expect(account.needsOwner).toBe(false)

      // Every process is started again when it ends by itself.
      for (const name of ['gateway', 'edge', 'web', 'reports', 'worker'])
        process.kill(Number(readFileSync(join(folder, 'processes', `${name}.pid`), 'utf8')), 'SIGKILL')
      await expect
        .poll(
          () =>
            fetch(`http://127.0.0.1:${port}/api/health`).then(
              ({ status }) => status,
              () => 0,
            ),
          { timeout: HANGS },
        )
        .toBe(200)

      second.kill('SIGINT')
      await ended(second)
      await expect(fetch(`http://127.0.0.1:${port}/api/health`)).rejects.toThrow()
    },
    HANGS,
  )

  test(
    'says what to do about a port in use, a wrong option, and a folder that cannot be made',
    async () => {
      const port = await freePort()
      const holder = createServer()
      await new Promise<void>((listening) => holder.listen(port, '127.0.0.1', listening))
      expect(refusal(['--port', String(port)])).toMatchObject({
        code: 1,
        message: expect.stringMatching(/Port \d+ is in use.*--port/s),
      })
      holder.close()
      expect(refusal(['--port', 'abc']).message).toMatch(/--port takes a port number from 1 to 65535, not "abc"/)
      expect(refusal(['--unheard-of']).message).toMatch(/Usage: \.\/vetch start/)
      expect(refusal(['--data', '/dev/null/nowhere']).message).toMatch(/cannot be created. Choose another with --data/)
    },
    HANGS,
  )
})

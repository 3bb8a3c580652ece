import { Scrypt } from '@adonisjs/hash/drivers/scrypt'

const scrypt = new Scrypt({ cost: 16_384, blockSize: 8, parallelization: 1, maxMemory: 64 * 1024 * 1024 })

/** Salted scrypt hash of a password. */
export function hashPassword(password: string): Promise<string> {
  return scrypt.make(password)
}

/** Whether a password belongs to a hash. Takes as long for an account that does not exist. */
export async function verifyPassword(hash: string | null, password: string): Promise<boolean> {
  absentHash ??= await scrypt.make('no account has this password')
  const matches = await scrypt.verify(hash ?? absentHash, password)
  return hash !== null && matches
}

let absentHash: string | undefined

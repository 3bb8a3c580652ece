import { hmac } from '@noble/hashes/hmac.js'
import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js'

/**
 * The person that a browser tells of. Where a site asks for proof, one whose proof is missing or made up is nobody: what
 * was done counts for the visitor alone.
 *
 * @param told - 32 hexadecimal digits, and where the page gives one, a dot and as many of the proof
 * @param key - the site's person key; null where it asks for none
 * @returns what stands for the person, or null
 */
export function provenPerson(told: string | undefined, key: string | null): string | null {
  if (told === undefined) return null
  const [person = '', proof = ''] = told.split('.')
  if (key === null) return person
  return isEqual(proof, proofOf(person, key)) ? person : null
}

/**
 * What stands for a person by the id that the site's own server knows them by.
 *
 * @returns the first 32 digits of HMAC-SHA256 of `person.` and the id, as that server computes it
 */
export function keyedPerson(id: string, key: string): string {
  return digits(`person.${id}`, key)
}

/** The proof of a keyed person: the first 32 digits of HMAC-SHA256 of `proof.` and what stands for them. */
export function proofOf(person: string, key: string): string {
  return digits(`proof.${person}`, key)
}

function digits(text: string, key: string): string {
  return bytesToHex(hmac(sha256, utf8ToBytes(key), utf8ToBytes(text))).slice(0, 32)
}

/** Takes as long whatever is wrong, so that nobody finds a proof digit by digit. */
function isEqual(one: string, other: string): boolean {
  let difference = one.length ^ other.length
  for (let index = 0; index < other.length; index++) difference |= one.charCodeAt(index) ^ other.charCodeAt(index)
  return difference === 0
}

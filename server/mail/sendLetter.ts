import { createTransport, type Transporter } from 'nodemailer'
import type { Letter } from './letters'

export interface MailSettings {
  /** Empty where no letters go out. */
  smtpUrl: string
  mailFrom: string
}

const PATIENCE = 10_000
let transport: { url: string; sender: Transporter } | undefined

/**
 * Sends a letter by SMTP.
 *
 * @returns whether a server took it; the reason why not is in the log, without the letter
 */
export async function sendLetter(settings: MailSettings, to: string, letter: Letter): Promise<boolean> {
  if (!settings.smtpUrl) return false
  const problem = await problemOfSending(settings, to, letter)
  if (problem) console.error(`A letter could not be sent: ${problem.why}`)
  return problem === null
}

/** Why a letter was not sent, and whether it never will be. */
export interface MailProblem {
  why: string
  isFinal: boolean
}

/**
 * Sends a letter by SMTP.
 *
 * @param id - the same for each try: whoever has got the letter already knows it by that
 * @returns null where a server took it
 */
export async function problemOfSending(
  { smtpUrl, mailFrom }: MailSettings,
  to: string,
  letter: Letter,
  id?: string,
): Promise<MailProblem | null> {
  if (transport?.url !== smtpUrl) {
    const patience = { connectionTimeout: PATIENCE, greetingTimeout: PATIENCE, socketTimeout: PATIENCE }
    transport = { url: smtpUrl, sender: createTransport({ url: smtpUrl, ...patience }) }
  }
  const domain = /@([\w.-]+)/.exec(mailFrom)?.[1] ?? 'localhost'
  try {
    await transport.sender.sendMail({
      from: mailFrom,
      to: { name: '', address: to },
      ...(id ? { messageId: `<${id}@${domain}>` } : {}),
      ...letter,
    })
    return null
  } catch (error) {
    // A server says for good with a number from 500 on; everything else may pass.
    const code = (error as { responseCode?: unknown }).responseCode
    return {
      why: error instanceof Error ? error.message : 'unknown reason',
      isFinal: typeof code === 'number' && code >= 500,
    }
  }
}

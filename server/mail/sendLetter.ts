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
export async function sendLetter({ smtpUrl, mailFrom }: MailSettings, to: string, letter: Letter): Promise<boolean> {
  if (!smtpUrl) return false
  if (transport?.url !== smtpUrl) {
    const patience = { connectionTimeout: PATIENCE, greetingTimeout: PATIENCE, socketTimeout: PATIENCE }
    transport = { url: smtpUrl, sender: createTransport({ url: smtpUrl, ...patience }) }
  }
  try {
    await transport.sender.sendMail({ from: mailFrom, to: { name: '', address: to }, ...letter })
    return true
  } catch (error) {
    console.error(`A letter could not be sent: ${error instanceof Error ? error.message : 'unknown reason'}`)
    return false
  }
}

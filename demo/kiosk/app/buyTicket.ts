import type { Party, Ticket } from '../protocol'

declare global {
  interface Window {
    /** A list until the snippet has come, then what takes events at once. */
    vetch?: Pick<object[], 'push'>
  }
}

/** Buys a ticket, and tells Vetch of the sale, as any site could. */
export async function buyTicket({ crossing, adults, children }: Party): Promise<Ticket> {
  const reply = await fetch('/tickets', {
    method: 'POST',
    body: JSON.stringify({ slug: crossing?.slug, adults, children }),
    headers: { 'content-type': 'application/json' },
  })
  if (!reply.ok) throw new Error(`The ticket could not be bought: ${reply.status}.`)
  const ticket = (await reply.json()) as Ticket
  const vetch = (window.vetch ??= [])
  const details = { crossing: crossing?.slug, adults, children }
  vetch.push({ event: 'ticket', amount: ticket.total, currency: 'EUR', id: ticket.number, details })
  return ticket
}

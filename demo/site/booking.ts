import { CROSSINGS, fare, type Crossing } from './crossings'
import { escapeHtml, type Page } from './pages'

/** What a visitor has entered so far; travels in the address from step to step. */
export interface Booking {
  crossing: Crossing
  date: string
  adults: number
  children: number
  vehicleMeters: number
  name: string
  email: string
}

export interface Confirmed extends Booking {
  ref: string
  total: number
}

export function readBooking(query: URLSearchParams): Booking {
  const count = (name: string, fallback: number, most: number) => {
    const value = Number(query.get(name) || fallback)
    return Number.isFinite(value) ? Math.min(Math.max(0, value), most) : fallback
  }
  return {
    crossing: CROSSINGS.find(({ slug }) => slug === query.get('crossing')) ?? CROSSINGS[0]!,
    date: query.get('date') ?? '',
    adults: count('adults', 1, 9),
    children: count('children', 0, 9),
    vehicleMeters: query.get('vehicle') === 'none' ? 0 : count('length', 0, 20),
    name: query.get('name') ?? '',
    email: query.get('email') ?? '',
  }
}

export function totalOf(booking: Booking): number {
  return fare(booking.crossing, booking)
}

const hidden = (query: URLSearchParams, names: string[]) =>
  names.map((name) => `<input type="hidden" name="${name}" value="${escapeHtml(query.get(name) ?? '')}">`).join('')

export function bookPage(query: URLSearchParams): Page {
  const { crossing, date, adults } = readBooking(query)
  const options = CROSSINGS.map(
    ({ slug, island }) => `<option value="${slug}"${slug === crossing.slug ? ' selected' : ''}>${island}</option>`,
  ).join('')
  return {
    title: 'Book',
    body: `<h1>Book a crossing</h1>
<form id="booking" class="steps" action="/book/travelers" method="get">
<label>Crossing<select name="crossing">${options}</select></label>
<label>Day<input type="date" name="date" required value="${escapeHtml(date)}"></label>
<label>Adults<input type="number" name="adults" min="1" max="9" value="${adults || 1}"></label>
<label>Children<input type="number" name="children" min="0" max="9" value="0"></label>
<label>Vehicle<select name="vehicle"><option value="car">Car</option><option value="none">On foot</option></select></label>
<label>Length of the vehicle in meters, with towbar and bicycle rack, as in the registration document<input name="length" inputmode="decimal" placeholder="4.37"></label>
<button id="to-travelers">Go on</button>
</form>`,
  }
}

export function travelersPage(query: URLSearchParams): Page {
  return {
    title: 'Travelers',
    body: `<h1>Who travels?</h1>
<form id="travelers" class="steps" action="/book/pay" method="get">
${hidden(query, ['crossing', 'date', 'adults', 'children', 'vehicle', 'length'])}
<label>Name<input name="name" required></label>
<label>E-mail address<input name="email" type="email" required></label>
<button id="to-pay">Go on to payment</button>
</form>`,
  }
}

export function payPage(query: URLSearchParams): Page {
  return {
    title: 'Pay',
    body: `<h1>Payment</h1><p class="total">To pay: € ${totalOf(readBooking(query)).toFixed(2)}</p>
<form id="payment" class="steps" action="/book/pay" method="post">
${hidden(query, ['crossing', 'date', 'adults', 'children', 'vehicle', 'length', 'name', 'email'])}
<label>Card number (made up: any digits)<input name="card" inputmode="numeric" required></label>
<button id="pay">Pay now</button>
</form>`,
  }
}

export function donePage(confirmed: Confirmed | undefined): Page {
  if (!confirmed)
    return {
      title: 'Booking',
      body: '<h1>We cannot find this booking</h1><p>Check the number in your confirmation, or <a href="/book">book again</a>.</p>',
    }
  return {
    title: 'Booked',
    body: `<h1>Your crossing is booked</h1><p class="lead">To ${confirmed.crossing.island} on ${escapeHtml(confirmed.date)}. Your number is <strong>${confirmed.ref}</strong>.</p><p class="total">Paid: <span id="order-total">€ ${confirmed.total.toFixed(2)}</span></p>`,
  }
}

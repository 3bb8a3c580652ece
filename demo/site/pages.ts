import { CROSSINGS, type Crossing } from './crossings'

export interface Page {
  title: string
  body: string
}

/** Text from a form, fit to stand in a page. */
export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (character) => `&#${character.charCodeAt(0)};`)
}

/** A whole document. The script line is all that connects it with Vetch. */
export function layout({ title, body }: Page, scriptLine: string): string {
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
${scriptLine}
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${title} – Kittiwake Crossings</title>
<link rel="stylesheet" href="/style.css">
</head>
<body>
<header class="top"><a class="brand" href="/">Kittiwake Crossings</a><a href="/timetable">Timetable</a><a href="/passes">Passes</a><a href="/help">Help</a><a href="/book">Book</a></header>
<main>
${body}
</main>
<footer>Kittiwake Crossings, Harrow Quay. Car and foot ferries to Ennisay, Torrin and Little Skell.</footer>
</body>
</html>
`
}

const options = CROSSINGS.map(({ slug, island }) => `<option value="${slug}">${island}</option>`).join('')
const signUp = `<h2>Sailing notes by mail</h2>
<form id="newsletter" action="/newsletter/thanks" method="get" class="finder"><label>E-mail address<input name="email" type="email" required></label><button>Sign up</button></form>`

const home: Page = {
  title: 'Ferries from Harrow Quay',
  body: `<h1>Three islands, one small harbor</h1>
<p class="lead">Car and foot ferries from Harrow Quay, all year round.</p>
<form id="finder" class="finder" action="/book" method="get">
<label>Crossing<select name="crossing">${options}</select></label>
<label>Day<input type="date" name="date"></label>
<label>Travelers<input type="number" name="adults" min="1" max="9" value="2"></label>
<button id="find">Find a crossing</button>
</form>
<h2>Next sailings</h2>
<table id="next-sailings"><thead><tr><th>To</th><th>Leaves</th><th>Takes</th></tr></thead><tbody>${CROSSINGS.map((crossing) => `<tr><td><a href="/crossings/${crossing.slug}">${crossing.island}</a></td><td>${crossing.sailings[1]}</td><td>${crossing.minutes} min</td></tr>`).join('')}</tbody></table>
<section class="promo"><h2>Sail all summer</h2><p>The Island Hopper pass takes you across as often as you like from May to September.</p><a id="promo-pass" class="button" href="/passes/island-hopper">See the Island Hopper</a></section>
${signUp}`,
}

function crossingPage(crossing: Crossing): Page {
  const { slug, island, minutes, sailings, adult, child, car, text, hills } = crossing
  const scene = (sky: string, land: string) =>
    `<svg class="scene" viewBox="0 0 800 260" role="img" aria-label="${island}, drawn"><rect width="800" height="260" fill="${sky}"/><circle cx="660" cy="60" r="28" fill="#fff5d0"/><path d="${hills}" fill="${land}"/><rect y="200" width="800" height="60" fill="#2f6f8f"/><path d="M330 205h120l-16 22h-88z" fill="#c8452d"/><rect x="370" y="188" width="40" height="17" fill="#fff"/></svg>`
  return {
    title: `Ferry to ${island}`,
    body: `<h1 id="headline">The ferry to ${island}</h1>
<p class="lead">${text}</p>
${scene('#cfe6ee', '#5c7f5a')}
<h2>Sailing times</h2><p>${minutes} minutes from Harrow Quay.</p>
<ul>${sailings.map((time) => `<li>${time}</li>`).join('')}</ul>
<h2>What to see</h2><p>${text} The island’s shop opens when a boat comes in. There is a path along the shore with benches, and in June the thrift turns the rocks pink.</p>
${scene('#e8e2d0', '#6f7f68')}
<p>Take a coat. The wind from the sound is stronger than it looks from the quay, and the afternoon boat may be late when the tide is low.</p>
${scene('#bcd3dc', '#4d6d55')}
<h2 id="fares">Fares</h2>
<table><tr><td>Adult</td><td>€ ${adult.toFixed(2)}</td></tr><tr><td>Child</td><td>€ ${child.toFixed(2)}</td></tr><tr><td>Car up to 5 m</td><td>€ ${car.toFixed(2)}</td></tr></table>
<p><a id="book-crossing" class="button" href="/book?crossing=${slug}">Book this crossing</a></p>`,
  }
}

const times = (order: 'island' | 'day') => {
  const days = ['Monday to Friday', 'Saturday', 'Sunday']
  const row = (crossing: Crossing, drop: number) =>
    `<tr><td>${crossing.island}</td><td>${crossing.sailings.slice(drop).join(', ')}</td></tr>`
  if (order === 'day')
    return days
      .map(
        (day, index) =>
          `<h2>${day}</h2><table>${CROSSINGS.map((crossing) => row(crossing, Math.min(index, 1))).join('')}</table>`,
      )
      .join('')
  return CROSSINGS.map(
    (crossing) =>
      `<h2>${crossing.island}</h2><table>${days.map((day, index) => `<tr><td>${day}</td><td>${crossing.sailings.slice(Math.min(index, 1)).join(', ')}</td></tr>`).join('')}</table>`,
  ).join('')
}

/** Every page that does not depend on what a visitor has typed, by path. */
export const PAGES: Readonly<Record<string, Page>> = {
  '/': home,
  ...Object.fromEntries(CROSSINGS.map((crossing) => [`/crossings/${crossing.slug}`, crossingPage(crossing)])),
  '/passes': {
    title: 'Season passes',
    body: `<h1>Season passes</h1><p class="lead">For those who cross more than twice.</p><div class="cards"><div class="card"><h2>Island Hopper</h2><p>All three islands, May to September.</p><p>€ 89.00</p><a id="choose-hopper" class="button" href="/passes/island-hopper">Choose this pass</a></div><div class="card"><h2>Winter Harbor</h2><p>October to April, on foot. Sold at the quay.</p><p>€ 45.00</p></div></div>`,
  },
  '/passes/island-hopper': {
    title: 'Island Hopper',
    body: `<h1>The Island Hopper pass</h1><p class="lead">As many crossings as you like, on foot or with a bicycle, from May to September. € 89.00 for adults, € 39.00 for children.</p><p><a id="buy-pass" class="button" href="/book?crossing=ennisay&amp;pass=island-hopper">Buy the pass</a></p><h2>What is in it</h2><ul><li>All three islands</li><li>Bicycles free</li><li>A tenth off in the tea room</li></ul>`,
  },
  '/timetable': {
    title: 'Timetable',
    body: `<h1>Timetable by island</h1><p><a href="/timetable-by-day">Show it by day</a></p>${times('island')}`,
  },
  '/timetable-by-day': {
    title: 'Timetable by day',
    body: `<h1>Timetable by day</h1><p><a href="/timetable">Show it by island</a></p>${times('day')}`,
  },
  '/help': {
    title: 'Help',
    body: `<h1>Help</h1><h2>When should I be at the quay?</h2><p>20 minutes before with a car, 10 on foot.</p><h2>Can I change my booking?</h2><p>Until the evening before, at no cost.</p><h2>What about animals?</h2><p>See the <a href="/help/dogs">page on animals</a>.</p>`,
  },
  '/help/dogs': {
    title: 'Dogs on board',
    body: '<h1>Dogs on board</h1><p class="lead">Dogs are welcome on every crossing, on a lead on the open deck. A dog costs € 3.00.</p>',
  },
  '/newsletter/thanks': {
    title: 'Thank you',
    body: '<h1>Thank you</h1><p class="lead">The next sailing notes come on the first of the month.</p>',
  },
}

// A small single-page application: three views, history routes, a form made by script and sent with fetch.
const view = document.getElementById('view');

const VOUCHER = `<form class="stack">
  <label>Your name <input name="your_name" autocomplete="name" required></label>
  <label>E-mail <input name="email" type="email" autocomplete="email" required></label>
  <label>Amount in pounds <input name="amount" type="number" min="10" max="500" value="50" required></label>
  <label>Card number <input name="card_number" autocomplete="cc-number" inputmode="numeric"></label>
  <label>Password for your account <input name="password" type="password"></label>
  <button>Send the voucher</button></form>`;

function draw() {
  if (location.pathname === '/studio/voucher') {
    view.innerHTML = '<h2>Gift voucher</h2>';
    // Added a moment later, as applications do once their data is there.
    setTimeout(() => {
      if (location.pathname !== '/studio/voucher') return;
      view.insertAdjacentHTML('beforeend', VOUCHER);
      view.querySelector('form').addEventListener('submit', send);
    }, 150);
  } else if (location.pathname === '/studio/kiln') {
    view.innerHTML = '<h2>The kiln</h2><p>Wood, twelve hours, two people awake.</p><p><button type="button" id="remind">Tell me when it is fired</button></p>';
    view.querySelector('#remind').addEventListener('click', (event) => {
      (window.outcry = window.outcry || []).push(['track', 'firing_reminder', { firing: 'Winter firing' }]);
      event.target.textContent = 'We will';
    });
  } else view.innerHTML = '<h2>Visit us</h2><p>Thursday to Sunday, ten to five. The dog is called Slip.</p>';
}

async function send(event) {
  event.preventDefault();
  const answer = await fetch('/studio/voucher', { method: 'POST', body: new FormData(event.target) });
  view.insertAdjacentHTML('beforeend', answer.ok ? '<p class="sent" role="status">It is on its way.</p>' : '<p class="failed" role="status">That did not work.</p>');
}

for (const link of document.querySelectorAll('a[data-route]'))
  link.addEventListener('click', (event) => {
    event.preventDefault();
    history.pushState({}, '', link.href);
    draw();
  });
addEventListener('popstate', draw);
draw();

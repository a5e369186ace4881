// A page as its own developers would write it; it only has to compile against what they are given.
window.outcry = window.outcry || [];
window.outcry.push(['visitor', (id) => id.toUpperCase()]);
window.outcry.push(['page']);
window.outcry.push(['show', 'an-id']);
window.outcry.push(['open']);
window.outcry.push(['track', 'gift wrapped', { product: 'Salt jug' }]);
window.outcry.push(['identify', { id: '17' }, 'signature']);
window.outcry.push(['consent', true]);
window.outcry.push(['hold', 'chat', false]);
if (!Array.isArray(window.outcry)) {
  window.outcry.track('basket', { product: 'Salt jug' });
  window.outcry.hold('dialog', true);
}
// @ts-expect-error There is no such call.
window.outcry.push(['shout', 'loud']);

export {};

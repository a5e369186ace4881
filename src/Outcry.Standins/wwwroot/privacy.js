for (const [id, agreed] of [['agree', true], ['refuse', false]])
  document.getElementById(id).addEventListener('click', () => {
    (window.outcry = window.outcry || []).push(['consent', agreed]);
    document.getElementById('chosen').textContent = agreed ? 'Remembered from now on.' : 'Nothing is kept.';
  });

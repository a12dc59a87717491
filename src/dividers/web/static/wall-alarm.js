/* Ringing when something falls due, and keeping the screen on, where the browser lets a page do that. */
"use strict";
globalThis.DividersAlarm = (() => {
  let ear = null;
  const ring = (urgent, aloud) => {
    document.body.classList.add("rings");
    setTimeout(() => document.body.classList.remove("rings"), 4000);
    if (navigator.vibrate) navigator.vibrate(urgent ? [300, 120, 300, 120, 300] : [250, 150, 250]);
    if (!ear || !aloud) return;
    for (const [turn, pitch] of (urgent ? [880, 660, 880, 660] : [660, 880]).entries()) {
      const voice = ear.createOscillator();
      const loud = ear.createGain();
      voice.frequency.value = pitch;
      loud.gain.setValueAtTime(0.25, ear.currentTime + turn * 0.25);
      loud.gain.exponentialRampToValueAtTime(0.001, ear.currentTime + turn * 0.25 + 0.22);
      voice.connect(loud).connect(ear.destination);
      voice.start(ear.currentTime + turn * 0.25);
      voice.stop(ear.currentTime + turn * 0.25 + 0.24);
    }
  };
  // A browser lets sound begin only when a button is pressed.
  const open = () => { ear ||= new AudioContext(); ear.resume(); };
  // Whether the screen stays on while the page is looked at, as a sentence.
  const awake = async () => {
    if (!globalThis.isSecureContext) return "Without https the screen goes dark by itself (set a longer time-out), and this page can't be loaded anew without a connection.";
    if (!navigator.wakeLock) return "This browser can't keep the screen on: set a longer screen time-out.";
    try { await navigator.wakeLock.request("screen"); return "The screen stays on."; } catch { return "The screen may go off: set a longer screen time-out."; }
  };
  return { ring, open, awake };
})();

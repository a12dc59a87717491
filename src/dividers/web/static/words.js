/* Times and lengths of time in words, on the site's clock. */
"use strict";
globalThis.DividersWords = (() => {
  const zone = () => document.documentElement.dataset.zone || undefined;
  const part = (ms, options) => new Date(ms).toLocaleString("en-GB", { timeZone: zone(), ...options });
  const clock = (ms) => part(ms, { hour: "2-digit", minute: "2-digit", hour12: false });
  const dayOf = (ms) => Date.parse(new Date(ms).toLocaleDateString("en-CA", { timeZone: zone() }));

  // A moment with its day: today 10:40, Mon 08:00, Mon 15 Mar 08:05.
  const said = (ms, now) => {
    const away = Math.round((dayOf(ms) - dayOf(now)) / 864e5);
    const near = { "-1": "yesterday", 0: "today", 1: "tomorrow" }[away];
    const day = near ?? part(ms, Math.abs(away) < 7 ? { weekday: "short" } : { weekday: "short", day: "numeric", month: "short" }).replace(",", "");
    return `${day} ${clock(ms)}`;
  };

  // How long still, to the second; what is over has a plus.
  const left = (ms) => {
    const seconds = Math.round(Math.abs(ms) / 1000);
    const [h, m, s] = [Math.floor(seconds / 3600), Math.floor((seconds % 3600) / 60), seconds % 60];
    const two = (n) => String(n).padStart(2, "0");
    return `${ms < 0 ? "+" : ""}${h >= 24 ? `${Math.floor(h / 24)} d ${h % 24} h` : h ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`}`;
  };

  // Minutes as people say them.
  const spoken = (minutes) => {
    const [h, m] = [Math.floor(minutes / 60), minutes % 60];
    return h >= 48 ? `${Math.floor(h / 24)} days ${h % 24} h` : h ? `${h} h${m ? ` ${m} min` : ""}` : `${m} min`;
  };

  const upper = (text) => (text ? text[0].toUpperCase() + text.slice(1) : "");
  return { said, left, spoken, upper };
})();

"use strict";
(() => {
  const data = JSON.parse(document.getElementById("figures").textContent);
  const byId = (id) => document.getElementById(id);
  const OUTCOMES = ["loaded", "duplicate", "rejected", "filtered"];
  const HUES = ["#2f5f9e", "#c4541c", "#4e9a8d", "#8a5fa8", "#d9b44a", "#5c6f2d", "#b0708a", "#6b7f99"];
  const DAY = 86400000;

  // What one looks at. It is kept in the address, so that a page that is loaded again shows the same.
  const view = { period: data.days, feeds: null, measure: "outcome", grain: "day", search: "", slot: null, feed: null };
  const recall = () => {
    for (const [key, value] of new URLSearchParams(location.hash.slice(1))) {
      if (key === "feeds") view.feeds = new Set(value.split(".").filter((x) => x).map(Number));
      else if (key === "period") view.period = Math.min(data.days, Math.max(1, Number(value) || data.days));
      else if (key === "slot" || key === "feed") view[key] = Number(value);
      else if (key in view) view[key] = value;
    }
  };
  const remember = () => {
    const hash = new URLSearchParams();
    for (const key of ["measure", "grain", "search"]) if (view[key]) hash.set(key, view[key]);
    hash.set("period", view.period);
    if (view.feeds) hash.set("feeds", [...view.feeds].join("."));
    for (const key of ["slot", "feed"]) if (view[key] !== null) hash.set(key, view[key]);
    history.replaceState(null, "", "#" + hash);
  };

  const count = (n) => Math.round(n).toString().replace(/\B(?=(\d{3})+(?!\d))/g, "\u202f");
  const bytes = (n) => {
    const units = ["B", "kB", "MB", "GB", "TB"];
    let i = 0;
    while (n >= 1000 && i < units.length - 1) { n /= 1000; i++; }
    return (i && n < 100 ? n.toFixed(1) : Math.round(n)) + "\u202f" + units[i];
  };
  const span = (ms) => ms < 60000 ? (ms / 1000).toFixed(1) + " s" : ms < 5400000 ? Math.round(ms / 60000) + " min" : (ms / 3600000).toFixed(1) + " h";
  const dayText = (day) => new Date((data.first + day) * DAY).toISOString().slice(0, 10);
  const slotText = (slot) => view.grain === "day" ? dayText(slot)
    : dayText(Math.floor(slot / 24)) + " " + String(slot % 24).padStart(2, "0") + ":00";
  const css = (name) => getComputedStyle(document.documentElement).getPropertyValue("--" + name).trim();
  const shown = (feed) => !view.feeds || view.feeds.has(feed);
  const element = (name, text, where) => {
    const made = document.createElement(name);
    if (text !== undefined) made.textContent = text;
    if (where) where.append(made);
    return made;
  };

  const firstDay = () => data.days - view.period;
  const slots = () => view.grain === "day"
    ? { rows: data.daily, from: firstDay(), until: data.days }
    : { rows: data.hourly, from: Math.max(firstDay(), data.hourlyFrom) * 24, until: data.days * 24 };

  /** Sums of a field by slot, and by feed if wanted: Map of key to array. */
  const sums = (field, byFeed) => {
    const { rows, from, until } = slots();
    const all = new Map();
    for (let i = 0; i < rows.feed.length; i++) {
      const slot = rows.slot[i];
      if (slot < from || slot >= until || !shown(rows.feed[i])) continue;
      const key = byFeed ? rows.feed[i] : field;
      if (!all.has(key)) all.set(key, new Array(until - from).fill(0));
      all.get(key)[slot - from] += rows[field][i];
    }
    if (!byFeed && !all.has(field)) all.set(field, new Array(until - from).fill(0));
    return all;
  };

  const series = () => {
    const measure = view.measure;
    if (measure === "outcome") {
      return OUTCOMES.map((name) => ({ label: name, data: sums(name).get(name), color: css(name), feed: null }));
    }
    if (measure === "speed") {
      const loaded = sums("read").get("read"), millis = sums("millis").get("millis");
      return [{ label: "rows per second", data: loaded.map((n, i) => millis[i] ? n * 1000 / millis[i] : null), color: css("loaded"), feed: null, line: true }];
    }
    if (measure === "duration") return [{ label: "time", data: sums("millis").get("millis"), color: css("loaded"), feed: null }];
    const field = { rows: "loaded", bytes: "bytes", files: "files" }[measure];
    const total = (values) => values.reduce((a, b) => a + b, 0);
    const all = [...sums(field, true)].sort((a, b) => total(b[1]) - total(a[1]));
    const own = all.length > HUES.length ? HUES.length - 1 : all.length;
    const parts = all.slice(0, own).map(([feed, values], i) => ({ label: data.feeds[feed], data: values, color: HUES[i], feed }));
    if (all.length > own) {
      const rest = all[own][1].map((_, i) => all.slice(own).reduce((sum, [, values]) => sum + values[i], 0));
      parts.push({ label: (all.length - own) + " other feeds", data: rest, color: HUES[own], feed: null });
    }
    return parts;
  };
  const amount = (value) => value === null ? "-" : view.measure === "bytes" ? bytes(value) : view.measure === "duration" ? span(value) : count(value);

  let chart = null;
  const draw = () => {
    const { from, until } = slots();
    const parts = series();
    const labels = [];
    for (let slot = from; slot < until; slot++) labels.push(slotText(slot));
    const axis = { color: css("soft") }, grid = { color: css("line") };
    if (chart) chart.destroy();
    chart = new Chart(byId("chart"), {
      data: {
        labels,
        datasets: parts.map((part) => ({
          type: part.line ? "line" : "bar", label: part.label, data: part.data, backgroundColor: part.color, borderColor: part.color,
          borderWidth: part.line ? 2 : 0, pointRadius: part.line ? 2 : 0, stack: "all", spanGaps: false, barPercentage: 0.96, categoryPercentage: 0.96,
        })),
      },
      options: {
        animation: false, maintainAspectRatio: false, interaction: { mode: "index", intersect: false },
        scales: {
          x: { stacked: true, ticks: { ...axis, maxRotation: 0, autoSkipPadding: 16 }, grid: { display: false } },
          y: { stacked: true, beginAtZero: true, ticks: { ...axis, callback: (v) => amount(v), maxTicksLimit: 6 }, grid },
        },
        plugins: {
          legend: { labels: { color: css("ink"), boxWidth: 12, boxHeight: 12 } },
          tooltip: { callbacks: { label: (item) => " " + item.dataset.label + ": " + amount(item.raw) } },
        },
        onClick: (event) => {
          const near = chart.getElementsAtEventForMode(event, "index", { intersect: false }, true)[0];
          if (!near) return;
          const exact = chart.getElementsAtEventForMode(event, "nearest", { intersect: true }, true)[0];
          const slot = from + near.index;
          show(view.grain === "day" ? slot : Math.floor(slot / 24), exact ? parts[exact.datasetIndex].feed : null);
        },
      },
    });
    const table = byId("values");
    table.replaceChildren();
    const head = element("tr", undefined, element("thead", undefined, table));
    element("th", view.grain === "day" ? "day" : "hour", head).scope = "col";
    for (const part of parts) { const th = element("th", part.label, head); th.scope = "col"; th.className = "n"; }
    const body = element("tbody", undefined, table);
    labels.forEach((label, i) => {
      if (parts.every((part) => !part.data[i])) return;
      const tr = element("tr", undefined, body);
      element("td", label, tr);
      for (const part of parts) element("td", amount(part.data[i]), tr).className = "n";
    });
    told();
  };

  /** The account of what is shown, in words. */
  const told = () => {
    const total = (field) => sums(field).get(field).reduce((a, b) => a + b, 0);
    const reversed = total("reversed");
    byId("sums").textContent = count(total("files")) + " files, " + bytes(total("bytes")) + ": read " + count(total("read"))
      + " = loaded " + count(total("loaded")) + " + duplicate " + count(total("duplicate")) + " + rejected " + count(total("rejected"))
      + " + filtered " + count(total("filtered")) + (reversed ? "; reversed " + count(reversed) : "")
      + "; refused files " + count(total("refused")) + ", twins " + count(total("twins")) + ".";
  };

  const days = () => {
    const body = byId("days").tBodies[0];
    body.replaceChildren();
    const from = firstDay(), width = Math.max(2, Math.min(14, Math.floor(760 / view.period)));
    const files = data.feeds.map(() => new Array(data.days).fill(0));
    for (let i = 0; i < data.daily.feed.length; i++) files[data.daily.feed[i]][data.daily.slot[i]] += data.daily.files[i];
    data.feeds.forEach((name, feed) => {
      if (!shown(feed)) return;
      const values = files[feed].slice(from);
      const some = values.filter((n) => n > 0).sort((a, b) => a - b);
      const usual = some.length ? some[Math.floor(some.length / 2)] : 1;
      const begun = values.findIndex((n) => n > 0), last = values.findLastIndex((n) => n > 0);
      const timetable = data.expected[feed], judged = timetable ? timetable.from - from : view.period;
      const periods = (timetable ? timetable.odd : []).map(([day, ...rest]) => [day - from, ...rest]).filter(([day]) => day >= 0);
      const of = (...verdicts) => [...new Set(periods.filter((period) => verdicts.includes(period[1])).map(([day]) => day))];
      const gaps = values.map((n, i) => n === 0 && begun >= 0 && i > begun && i < last && i < judged ? i : -1).filter((i) => i >= 0)
        .concat(of("missing"));
      const odd = of("late", "too many").filter((i) => !gaps.includes(i));
      const tr = element("tr", undefined, body);
      const th = element("th", name, tr);
      th.scope = "row";
      const canvas = element("canvas", undefined, element("td", undefined, tr));
      const sharp = window.devicePixelRatio || 1;
      canvas.width = width * view.period * sharp;
      canvas.height = 18 * sharp;
      canvas.style.width = width * view.period + "px";
      canvas.setAttribute("role", "img");
      canvas.setAttribute("aria-label", some.length + " of " + view.period + " days with files, " + gaps.length + " gaps, " + odd.length + " late or too many");
      const pen = canvas.getContext("2d");
      pen.scale(sharp, sharp);
      const gap = width > 4 ? 1 : 0;
      values.forEach((n, i) => {
        pen.globalAlpha = n === 0 ? 1 : Math.min(1, 0.35 + 0.4 * n / usual);
        pen.fillStyle = n === 0 ? css("line") : css("loaded");
        pen.fillRect(i * width, n === 0 ? 7 : 2, width - gap, n === 0 ? 4 : 14);
      });
      pen.globalAlpha = 1;
      pen.strokeStyle = css("bad");
      for (const i of gaps) {
        if (width > 4) pen.strokeRect(i * width + 0.5, 2.5, width - gap - 1, 13);
        else { pen.fillStyle = css("bad"); pen.fillRect(i * width, 2, width, 14); }
      }
      pen.strokeStyle = pen.fillStyle = css("ink");
      for (const i of odd) {
        for (let y = 3; y < 15; y += 4) pen.fillRect(i * width + Math.floor((width - gap) / 2) - 1, y, 2, 2);
      }
      const at = (event) => Math.min(view.period - 1, Math.max(0, Math.floor(event.offsetX / width)));
      canvas.addEventListener("mousemove", (event) => {
        const i = at(event), text = name + ", " + dayText(from + i) + ": " + count(values[i]) + (values[i] === 1 ? " file" : " files")
          + periods.filter(([day]) => day === i).map(([, verdict, period, came, due]) => "; " + period + ": " + verdict + ", " + came + " of " + due).join("");
        canvas.title = text;
        byId("day-told").textContent = text;
      });
      canvas.addEventListener("click", (event) => show(from + at(event), feed));
      element("td", some.length + " of " + view.period, tr).className = "n";
      element("td", String(gaps.length), tr).className = "n";
      element("td", timetable ? String(odd.length) : "-", tr).className = "n";
      element("td", gaps.length ? dayText(from + gaps[gaps.length - 1]) : "", tr);
    });
  };

  /** Shows the files of a day, and of one feed if that is known. */
  const show = (slot, feed) => {
    view.slot = slot;
    view.feed = feed;
    tables();
    remember();
    byId("h-files").scrollIntoView();
  };

  const tables = () => {
    const from = firstDay(), words = view.search.toLowerCase();
    let seen = 0;
    for (const row of document.querySelectorAll("[data-feed], [data-day]")) {
      const feed = row.dataset.feed === undefined ? null : Number(row.dataset.feed);
      const day = row.dataset.day === undefined ? null : Number(row.dataset.day);
      let visible = (feed === null || shown(feed)) && (day === null || day >= from);
      if (row.closest("#files")) {
        visible = visible && (view.slot === null || day === view.slot) && (view.feed === null || feed === view.feed)
          && (!words || row.textContent.toLowerCase().includes(words));
        seen += visible ? 1 : 0;
      }
      row.hidden = !visible;
    }
    const only = view.slot === null ? "" : " of " + dayText(view.slot) + (view.feed === null ? "" : ", " + data.feeds[view.feed]);
    byId("files-shown").textContent = count(seen) + (seen === 1 ? " entry" : " entries") + only;
    byId("clear").hidden = view.slot === null && !words;
  };

  const sortable = (table) => {
    [...table.tHead.rows[0].cells].forEach((cell, column) => {
      const button = element("button", cell.textContent);
      button.type = "button";
      cell.replaceChildren(button);
      button.addEventListener("click", () => {
        const down = cell.getAttribute("aria-sort") !== "descending";
        for (const other of table.tHead.rows[0].cells) other.removeAttribute("aria-sort");
        cell.setAttribute("aria-sort", down ? "descending" : "ascending");
        const value = (row) => {
          const td = row.cells[column], text = td.dataset.v ?? td.textContent;
          if (!cell.classList.contains("n")) return text;
          return Number(text.replace(/[^\d.-]/g, "")) || 0;
        };
        const order = (a, b) => typeof a === "number" ? a - b : a.localeCompare(b);
        const rows = [...table.tBodies[0].rows].map((row) => [value(row), row]);
        rows.sort((a, b) => down ? order(b[0], a[0]) : order(a[0], b[0]));
        table.tBodies[0].append(...rows.map(([, row]) => row));
      });
    });
  };

  const copy = async (text, button) => {
    try {
      await navigator.clipboard.writeText(text);
    } catch {
      const field = element("textarea", text, document.body);
      field.select();
      document.execCommand("copy");
      field.remove();
    }
    button.textContent = "copied";
    setTimeout(() => { button.textContent = "copy"; }, 1500);
  };

  const all = () => { chosenFeeds(); draw(); days(); tables(); remember(); };
  const boxes = [...document.querySelectorAll("input[name=feed]")];
  const chosenFeeds = () => {
    byId("feeds-chosen").textContent = !view.feeds ? "all" : view.feeds.size === 1 ? data.feeds[[...view.feeds][0]] : view.feeds.size + " of " + data.feeds.length;
    byId("all-feeds").checked = !view.feeds;
    for (const box of boxes) box.checked = shown(Number(box.value));
  };

  recall();
  for (const length of [...new Set([1, 7, 30, 90, data.days])].filter((n) => n <= data.days).sort((a, b) => a - b)) {
    const option = element("option", length === 1 ? "today" : length === data.days ? "all " + length + " days" : "last " + length + " days", byId("period"));
    option.value = length;
  }
  byId("period").value = view.period;
  byId("measure").value = view.measure;
  byId("grain").value = view.grain;
  byId("search").value = view.search;
  byId("period").addEventListener("change", (event) => { view.period = Number(event.target.value); view.slot = null; all(); });
  byId("measure").addEventListener("change", (event) => { view.measure = event.target.value; draw(); remember(); });
  byId("grain").addEventListener("change", (event) => { view.grain = event.target.value; draw(); remember(); });
  byId("search").addEventListener("input", (event) => { view.search = event.target.value; tables(); remember(); });
  byId("clear").addEventListener("click", () => { view.slot = view.feed = null; view.search = byId("search").value = ""; tables(); remember(); });
  byId("all-feeds").addEventListener("change", (event) => { view.feeds = event.target.checked ? null : new Set(); all(); });
  for (const box of boxes) {
    box.addEventListener("change", () => {
      const chosen = boxes.filter((b) => b.checked).map((b) => Number(b.value));
      view.feeds = chosen.length === boxes.length ? null : new Set(chosen);
      all();
    });
  }
  document.querySelectorAll("table.sortable").forEach(sortable);
  document.querySelectorAll(".copy").forEach((button) => button.addEventListener("click", () => copy(button.dataset.command, button)));
  for (const form of document.forms) form.addEventListener("submit", (event) => event.preventDefault());
  for (const change of ["(prefers-color-scheme: dark)", "print"]) matchMedia(change).addEventListener("change", () => { draw(); days(); });
  all();
  const live = Number(document.body.dataset.live);
  if (live) setInterval(() => { if (!document.hidden && document.activeElement !== byId("search")) location.reload(); }, live * 1000);
})();

#!/usr/bin/env node
// Opens a report in Chromium, uses it as a person would, and fails on the first thing that is wrong.
// Usage: report-in-browser.mjs REPORT.html [FOLDER-FOR-PICTURES]
// Needs Debian's packages chromium and chromium-driver; speaks WebDriver (W3C) and nothing else.
import { spawn } from "node:child_process";
import { writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { resolve, join } from "node:path";
import assert from "node:assert/strict";

const page = resolve(process.argv[2]);
const pictures = process.argv[3];
const port = await new Promise((done) => {
  const server = createServer().listen(0, "127.0.0.1", () => {
    const { port } = server.address();
    server.close(() => done(port));
  });
});
const driver = spawn("chromedriver", ["--port=" + port], { stdio: "ignore" });
const call = async (method, path, body) => {
  const answer = await fetch("http://127.0.0.1:" + port + path, { method, body: body && JSON.stringify(body) });
  const { value } = await answer.json();
  if (value && value.error) throw new Error(path + ": " + value.message);
  return value;
};
const until = async (what, test) => {
  for (let i = 0; i < 200; i++) {
    try { const found = await test(); if (found) return found; } catch (e) { if (i === 199) throw e; }
    await new Promise((done) => setTimeout(done, 50));
  }
  throw new Error(what + " did not happen");
};
let session;
try {
  await until("the start of chromedriver", async () => (await call("GET", "/status")).ready);
  const made = await call("POST", "/session", { capabilities: { alwaysMatch: {
    browserName: "chrome", "goog:loggingPrefs": { browser: "ALL" },
    "goog:chromeOptions": { args: ["--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--window-size=1280,900", "--hide-scrollbars"] },
  } } });
  session = "/session/" + made.sessionId;
  const run = (script, ...args) => call("POST", session + "/execute/sync", { script, args });
  const media = (features) => call("POST", session + "/goog/cdp/execute", { cmd: "Emulation.setEmulatedMedia", params: features });
  const element = async (css) => Object.values(await call("POST", session + "/element", { using: "css selector", value: css }))[0];
  const click = async (css) => call("POST", session + "/element/" + await element(css) + "/click", {});
  const point = async (css, x, y, press) => {
    const origin = { "element-6066-11e4-a52e-4f735466cecf": await element(css) };
    const actions = [{ type: "pointerMove", duration: 20, origin, x, y }];
    if (press) actions.push({ type: "pointerDown", button: 0 }, { type: "pointerUp", button: 0 });
    await call("POST", session + "/actions", { actions: [{ type: "pointer", id: "mouse", parameters: { pointerType: "mouse" }, actions }] });
  };
  const keys = async (css, text) => call("POST", session + "/element/" + await element(css) + "/value", { text });
  const choose = (id, value) => run("const s = document.getElementById(arguments[0]); s.value = arguments[1]; s.dispatchEvent(new Event('change'));", id, value);
  const text = (id) => run("return document.getElementById(arguments[0]).textContent", id);
  const shown = () => run("return [...document.querySelectorAll('#files tbody tr')].filter(r => r.offsetParent).length");
  const picture = async (name) => {
    if (pictures) writeFileSync(join(pictures, name + ".png"), Buffer.from(await call("GET", session + "/screenshot"), "base64"));
  };

  await call("POST", session + "/goog/cdp/execute", { cmd: "Emulation.setDeviceMetricsOverride", params: { width: 1280, height: 800, deviceScaleFactor: 1, mobile: false } });
  await media({ features: [{ name: "prefers-color-scheme", value: "light" }] });
  await call("POST", session + "/url", { url: "file://" + page });
  const opened = await run("const n = performance.getEntriesByType('navigation')[0]; return n.loadEventEnd - n.startTime");
  const drawn = await run("const c = document.getElementById('chart'); return Chart.getChart(c).data.labels.length");
  assert.ok(drawn > 0, "the chart is drawn");
  await picture("report");

  // What is shown can be chosen, and the account follows.
  const before = await text("sums");
  assert.match(before, /read .* = loaded .* \+ duplicate .* \+ rejected .* \+ filtered/);
  for (const measure of ["rows", "bytes", "files", "speed", "duration", "outcome"]) {
    await choose("measure", measure);
    assert.ok(await run("return document.querySelectorAll('#values tbody tr').length") > 0, measure + " has values");
  }
  await choose("grain", "hour");
  await choose("grain", "day");
  assert.equal(await text("sums"), before, "the account is the same for hours and days of the same period");

  // One feed alone, then all.
  const feeds = await run("return document.querySelectorAll('input[name=feed]').length");
  if (feeds > 1) {
    await click("#feeds summary");
    await click("#all-feeds");
    assert.match(await text("sums"), /^0 files/);
    await click("input[name=feed]");
    assert.equal(await run("return [...document.querySelectorAll('.tile')].filter(t => t.offsetParent).length"), 1);
    await click("#all-feeds");
    assert.equal(await text("sums"), before);
    await click("#feeds summary");
  }

  // A search, and a sort by a column of numbers.
  const all = await shown();
  assert.ok(all > 0, "there are files");
  const path = await run("return document.querySelector('#files .path').firstChild.textContent");
  await keys("#search", path);
  const found = await shown();
  assert.ok(found > 0 && found <= all, "the search finds " + path);
  await click("#clear");
  assert.equal(await shown(), all);
  await click("#files th:nth-child(5) button");
  const read = await run("return [...document.querySelectorAll('#files td:nth-child(5)')].map(d => Number(d.textContent.replace(/[^\\d-]/g, '')))");
  assert.deepEqual(read, [...read].sort((a, b) => b - a), "sorted, the largest first");

  // A hover tells exact values; a click on a bar shows its files.
  await run("document.getElementById('h-days').scrollIntoView()");
  await point("#days canvas", 0, 0, false);
  assert.match(await text("day-told"), /\d{4}-\d\d-\d\d: .* files?/);
  await run("document.getElementById('h-time').scrollIntoView()");
  const bar = await run(`
    const chart = Chart.getChart(document.getElementById('chart'));
    for (const meta of chart.getSortedVisibleDatasetMetas())
      for (let i = meta.data.length - 1; i >= 0; i--)
        if (chart.data.datasets[meta.index].data[i] > 0 && meta.data[i].height > 4) {
          const c = chart.canvas.getBoundingClientRect(), b = meta.data[i];
          return [Math.round(b.x - c.width / 2), Math.round(b.y + b.height / 2 - c.height / 2)];
        }`);
  await point("#chart", bar[0], bar[1], false);
  await until("the tooltip", () => run("return Chart.getChart(document.getElementById('chart')).tooltip.opacity > 0"));
  await picture("report-hover");
  await point("#chart", bar[0], bar[1], true);
  await until("the choice of a day", async () => / of \d{4}-\d\d-\d\d/.test(await text("files-shown")));
  await picture("report-files");

  // What one looked at is still there when the page is loaded again.
  const looked = await text("files-shown");
  await call("POST", session + "/refresh", {});
  assert.equal(await text("files-shown"), looked);
  await click("#clear");

  if (await run("return document.querySelectorAll('.copy').length")) {
    await click(".copy");
    await until("the copy", async () => await run("return document.querySelector('.copy').textContent") === "copied");
  }
  assert.ok(await run("document.querySelector('#period').focus(); return document.activeElement.id === 'period'"));

  await media({ features: [{ name: "prefers-color-scheme", value: "dark" }] });
  await run("window.scrollTo(0, 0)");
  await until("the dark page", () => run("return getComputedStyle(document.body).backgroundColor === 'rgb(27, 28, 34)'"));
  await picture("report-dark");
  const pdf = Buffer.from(await call("POST", session + "/print", { background: true }), "base64");
  assert.ok(pdf.length > 10_000, "the page can be printed");
  if (pictures) writeFileSync(join(pictures, "report.pdf"), pdf);

  const told = (await call("POST", session + "/se/log", { type: "browser" })).filter((entry) => !/favicon/.test(entry.message));
  assert.deepEqual(told, [], "the browser has nothing to complain of");
  console.log("the report opens in " + Math.round(opened) + " ms and works");
} finally {
  if (session) await call("DELETE", session).catch(() => {});
  driver.kill();
}

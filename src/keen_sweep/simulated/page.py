"""The page with the switches, for people who try things out."""

ACCOUNT_PAGE = """<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Simulated service: switches</title>
<style>
 body { font: 15px/1.5 system-ui, sans-serif; background: #e4e4e0; color: #1b1b1a; max-width: 620px; margin: 32px auto }
 label { display: grid; grid-template-columns: 150px 150px; gap: 10px; padding: 3px 0; align-items: center }
 button { font: inherit; padding: 3px 12px; margin-top: 12px }
</style></head><body>
<h1>Simulated service</h1>
<p>It paints with the weave of Keen Sweep, sells invented credits, and fails as told. Every switch holds from the next
request on.</p>
<form id="form"></form>
<p id="books"></p>
<script>
const form = document.getElementById("form");
const words = { broken: ["", "words", "picture", "size"], dies: ["", "painting", "paid"] };
const books = async () => {
  const now = await (await fetch("/switches/books")).json();
  document.getElementById("books").textContent =
    `${now.asked} paintings asked for, ${now.done} done, ${now.paid} credits paid, ${now.left} left.`;
};
(async () => {
  const now = await (await fetch("/switches")).json();
  for (const [name, value] of Object.entries(now)) {
    const line = document.createElement("label");
    line.textContent = name.replaceAll("_", " ");
    const field = document.createElement(name in words ? "select" : "input");
    for (const word of words[name] ?? []) field.add(new Option(word || "no", word));
    field.name = name;
    if (typeof value === "boolean") { field.type = "checkbox"; field.checked = value; }
    else { if (typeof value === "number") { field.type = "number"; field.step = "any"; } field.value = value; }
    line.append(field);
    form.append(line);
  }
  const done = document.createElement("button");
  done.textContent = "Set";
  form.append(done);
  form.onsubmit = async (event) => {
    event.preventDefault();
    const wanted = {};
    for (const field of form.querySelectorAll("input, select"))
      wanted[field.name] =
        field.type === "checkbox" ? field.checked : field.type === "number" ? Number(field.value) : field.value;
    const headers = { "Content-Type": "application/json" };
    await fetch("/switches", { method: "PUT", headers, body: JSON.stringify(wanted) });
    books();
  };
  books();
})();
</script></body></html>
"""

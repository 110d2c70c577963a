// An archive is brought in pieces that each stand when the next one breaks: a lost connection is waited out.

const form = document.getElementById("bring");
const TRIES = 8;
const wait = (ms) => new Promise((go) => setTimeout(go, ms));

async function send(address, fields) {
  for (let tried = 0; ; tried += 1) {
    try {
      const body = new FormData();
      body.set("csrfmiddlewaretoken", form.elements.csrfmiddlewaretoken.value);
      for (const [name, value] of Object.entries(fields)) body.set(name, value);
      const answer = await fetch(address, { method: "POST", body, headers: { Accept: "application/json" } });
      if (answer.ok || answer.status === 422) return await answer.json();
    } catch {
      // the connection is away
    }
    if (tried >= TRIES) return { refused: form.dataset.lost };
    await wait(500 * 2 ** tried);
  }
}

function say(words) {
  const alert = form.querySelector("[role=alert]");
  alert.textContent = words;
  alert.hidden = !words;
}

async function bring(file) {
  const size = Number(form.dataset.piece);
  const bar = form.querySelector("progress");
  const begun = await send(form.action, { size: String(file.size) });
  if (begun.refused) return say(begun.refused);
  bar.max = file.size;
  bar.hidden = false;
  for (let number = 0; number * size < file.size; number += 1) {
    const part = file.slice(number * size, (number + 1) * size);
    const sent = await send(form.dataset.parts.replace("/0/", `/${begun.transfer}/`).replace("/0/", `/${number}/`), { part });
    if (sent.refused) return say(sent.refused);
    bar.value = Math.min((number + 1) * size, file.size);
  }
  location.reload();
}

form?.addEventListener("submit", async (event) => {
  event.preventDefault();
  const file = form.elements.file.files[0];
  if (!file) return say(form.dataset.missing);
  say("");
  const button = form.querySelector("button");
  button.disabled = true;
  await bring(file);
  button.disabled = false;
});

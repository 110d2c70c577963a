// Keys large enough for a glove, beside the field that they fill, which takes no focus by them: a tablet would lay its own
// keyboard over these.

const word = document.getElementById("word");

document.addEventListener("click", (event) => {
  const { key } = event.target.closest?.("[data-key]")?.dataset ?? {};
  if (!key) return;
  word.value = key === "back" ? word.value.slice(0, -1) : word.value + key;
});

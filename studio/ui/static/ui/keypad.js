// Keys large enough for a glove, beside the field that they fill.

const word = document.getElementById("word");

document.addEventListener("click", (event) => {
  const { key } = event.target.closest?.("[data-key]")?.dataset ?? {};
  if (!key) return;
  word.value = key === "back" ? word.value.slice(0, -1) : word.value + key;
  word.focus();
});

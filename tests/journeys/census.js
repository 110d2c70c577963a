// What a page offers to press, type and choose, and whether a finger reaches it. Loaded by the census.
window.census = {
  controls: [],

  async list(within) {
    let comes = false;
    for (const panel of document.querySelectorAll("main details")) {
      panel.removeAttribute("name"); // of some only one is open at a time
      comes ||= !panel.open && panel.querySelector("[hx-trigger^=toggle]") !== null;
      panel.open = true;
    }
    if (comes) await new Promise((heard) => setTimeout(() => setTimeout(heard))); // it is asked for when it is told
    const sought = "a[href], button, summary, input:not([type=hidden]), select, textarea, #plane, #depth";
    this.controls = [...document.querySelectorAll(sought)].filter(
      (each) =>
        (within === "main" ? !each.closest("header.masthead") : each.closest(within)) &&
        !each.closest(".skip-link, #outbox, noscript, [inert]") && each.checkVisibility(),
    );
    return this.controls.map((each, index) => ({
      index,
      kind: each.tagName.toLowerCase() + (each.tagName === "INPUT" ? `:${each.type}` : ""),
      name: each.name || (each.id === "plane" || each.id === "depth" ? each.id : ""),
      text: (each.getAttribute("aria-label") || each.textContent).trim().replace(/\s+/g, " "),
      value: each.value ?? "",
      id: each.id,
      disabled: Boolean(each.disabled),
      checked: Boolean(each.checked),
      leads: this.leads(each),
    }));
  },

  // What its markup says of itself, for whoever declares it.
  leads(control) {
    const sender = control.closest("[hx-post], [hx-get], a[href]") ?? control.form;
    const says = ["hx-post", "hx-get", "href", "formaction", "action", "hx-trigger"];
    return says.map((each) => sender?.getAttribute(each) && `${each}=${sender.getAttribute(each)}`).filter(Boolean).join(" ");
  },

  // The part of a control that a finger meets: a label stands for a button that is drawn by it.
  face(index) {
    const control = this.controls[index];
    return control.matches(".sr-only") ? control.closest("label") ?? control.labels?.[0] ?? control : control;
  },

  // Where to press it, once it is scrolled into sight; what lies over it, if nowhere a finger meets it.
  reach(index) {
    const control = this.controls[index], face = this.face(index);
    face.scrollIntoView({ block: "center", inline: "center", behavior: "instant" });
    const box = [...face.getClientRects()].find((each) => each.width > 1 && each.height > 1) ?? face.getBoundingClientRect();
    const meets = (met) => met && (face.contains(met) || met.closest("label")?.control === control);
    let over = null;
    for (const down of [0.5, 0.25, 0.75, 0.1, 0.9]) {
      for (const along of [0.5, 0.25, 0.75, 0.1, 0.9]) {
        const x = box.left + box.width * along, y = box.top + box.height * down, met = document.elementFromPoint(x, y);
        const height = Math.max(box.height, control.closest("label")?.getBoundingClientRect().height ?? 0);
        if (meets(met)) return { x, y, height, covered: "", unseen: false };
        over ??= met;
      }
    }
    const told = over ? `${over.tagName.toLowerCase()}.${over.getAttribute("class") ?? ""}` : "nothing, outside the window";
    return { x: 0, y: 0, height: box.height, covered: told, unseen: face.matches(".sr-only") };
  },

  // From now on, whether anything on the page changes, and its state as far as it is no attribute.
  watch(index) {
    this.changes = 0;
    this.before = this.state(index);
    this.observer?.disconnect();
    this.observer = new MutationObserver((all) => {
      // What is pressed is marked at once, and htmx marks what it works on: neither is yet a change.
      this.changes += all.filter((each) => !["class", "data-pressed"].includes(each.attributeName)).length;
    });
    this.observer.observe(document.documentElement, { subtree: true, childList: true, attributes: true, characterData: true });
  },

  state(index) {
    const control = this.controls[index], details = control?.closest("details");
    return JSON.stringify([control?.checked, control?.value, details?.open, document.activeElement?.id, scrollX, scrollY]);
  },

  changed(index) {
    return this.changes > 0 || this.state(index) !== this.before;
  },
};

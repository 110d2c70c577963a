// What can be measured of a screen in the browser, each a list of sentences that name what is wrong.
window.measures = (() => {
  const TEXT = "script, style, noscript, option, title, datalist";
  const PRESSED = "a[href], button, select, summary, input:not([type=hidden]), textarea";

  const named = (each) => {
    const words = (each.getAttribute("aria-label") || each.textContent || each.name || "").trim().replace(/\s+/g, " ");
    const mark = each.id ? `#${each.id}` : typeof each.className === "string" && each.className ? `.${each.className.split(" ")[0]}` : "";
    return `${each.tagName.toLowerCase()}${mark} "${words.slice(0, 40)}"`;
  };
  const isSeen = (each) =>
    each.checkVisibility({ visibilityProperty: true, opacityProperty: true }) && !each.closest(".sr-only, [inert], .skip-link");
  const clips = (style) => [style.overflowX, style.overflowY].some((way) => way !== "visible");
  const meet = (one, other) => ({
    left: Math.max(one.left, other.left), right: Math.min(one.right, other.right),
    top: Math.max(one.top, other.top), bottom: Math.min(one.bottom, other.bottom),
  });
  const wide = (box) => box.right - box.left;
  const high = (box) => box.bottom - box.top;

  // The part of a box that its scrolling and hiding ancestors let be seen.
  function shown(each, box) {
    let seen = meet(box ?? each.getBoundingClientRect(), { left: -1e6, right: 1e6, top: -1e6, bottom: 1e6 });
    for (let above = box ? each : each.parentElement; above; above = above.parentElement) {
      if (clips(getComputedStyle(above)) && above !== document.body && above !== document.documentElement) seen = meet(seen, above.getBoundingClientRect());
    }
    return seen;
  }

  // What a finger meets: a hidden box is met by its label.
  function targets() {
    const found = new Map();
    for (const each of document.querySelectorAll(PRESSED)) {
      const label = each.labels?.length && each.matches("[type=radio], [type=checkbox], [type=file]") ? each.labels[0] : null;
      const met = label && (label.contains(each) || !isSeen(each)) ? label : each;
      if (isSeen(met) && !each.disabled) found.set(met, met);
    }
    return [...found.keys()];
  }

  // Of a drawing's parts, which no key reaches, each has its own control of full size beside it (2.5.8, equivalent).
  const isDrawn = (each) => each.closest("svg") && each.tabIndex < 0;
  // A link in a sentence is as high as the sentence's line (WCAG 2.2, 2.5.8, inline).
  const isInline = (each) => each.tagName === "A" && getComputedStyle(each).display === "inline"
    && [...each.parentElement.childNodes].some((node) => node.nodeType === Node.TEXT_NODE && /\w/.test(node.textContent));

  function small(least) {
    return targets().filter((each) => !isInline(each) && !isDrawn(each)).flatMap((each) => {
      const box = each.getBoundingClientRect();
      return box.width + 0.5 < least || box.height + 0.5 < least
        ? [`${named(each)} is ${box.width.toFixed(0)} x ${box.height.toFixed(0)}`] : [];
    });
  }

  // What stays in its place while the page goes under it covers some of it for as long as a hand wants.
  const isStuck = (each) => {
    for (let at = each; at; at = at.parentElement) if (["fixed", "sticky"].includes(getComputedStyle(at).position)) return true;
    return false;
  };

  function overlapping(slack) {
    const boxes = targets().filter((each) => !isDrawn(each)).map((each) => [each, shown(each)]).filter(([, box]) => wide(box) > 0 && high(box) > 0);
    const isRound = (each) => getComputedStyle(each).borderRadius.startsWith("9999") || parseFloat(getComputedStyle(each).borderRadius) > 1e6;
    const apart = (box, other) => Math.hypot(box.left + box.right - other.left - other.right, box.top + box.bottom - other.top - other.bottom) / 2 - (wide(box) + wide(other)) / 2;
    return boxes.flatMap(([one, box], at) => boxes.slice(at + 1).flatMap(([other, others]) => {
      const common = meet(box, others);
      const round = isRound(one) && isRound(other);
      const meets = round ? apart(box, others) < -slack : wide(common) > slack && high(common) > slack;
      const touch = meets && isStuck(one) === isStuck(other) && !one.contains(other) && !other.contains(one);
      return touch ? [`${named(one)} lies over ${named(other)}`] : [];
    }));
  }

  const textBoxes = (each) => [...each.childNodes].filter((node) => node.nodeType === Node.TEXT_NODE && node.textContent.trim())
    .flatMap((node) => {
      const range = document.createRange();
      range.selectNodeContents(node);
      return [...range.getClientRects()].filter((box) => box.width > 1 && box.height > 1);
    });

  const written = () => [...document.querySelectorAll("body *")]
    .filter((each) => !each.closest(TEXT) && !each.closest("svg") && isSeen(each) && textBoxes(each).length);

  // Text that its own box, or one above it that cannot be scrolled, cuts off; a whole name in a title counts as told.
  function cut(slack) {
    return written().filter((each) => !each.closest("[title], [data-cut]")).flatMap((each) => {
      for (const box of textBoxes(each)) {
        for (let above = each; above && above !== document.body; above = above.parentElement) {
          const style = getComputedStyle(above), room = above.getBoundingClientRect();
          const leading = 0.3 * parseFloat(getComputedStyle(each).fontSize); // a line's box is higher than its letters
          const over = {
            X: style.overflowX !== "visible" && (box.left < room.left - slack || box.right > room.right + slack),
            Y: style.overflowY !== "visible" && (box.top < room.top - leading || box.bottom > room.bottom + leading),
          };
          if (style.overflowX === "hidden" && over.X || style.overflowY === "hidden" && over.Y || style.overflowX === "clip" && over.X) return [`${named(each)} is cut by ${named(above)}`];
          if (over.X || over.Y) break; // it can be scrolled to
        }
      }
      return [];
    });
  }

  // Words of one place that lie on the words of another.
  function colliding(slack) {
    const letters = (each, box) => { // of large figures the line is far higher than what is drawn
      const size = parseFloat(getComputedStyle(each).fontSize), over = size > 40 ? 0.2 * size : 0;
      return { left: box.left, right: box.right, top: box.top + over, bottom: box.bottom - over };
    };
    const boxes = written().flatMap((each) => textBoxes(each).map((box) => [each, shown(each, letters(each, box))]))
      .filter(([, box]) => wide(box) > 1 && high(box) > 1);
    return boxes.flatMap(([one, box], at) => boxes.slice(at + 1).flatMap(([other, others]) => {
      const common = meet(box, others);
      const apart = one === other || isStuck(one) !== isStuck(other) || one.closest("dialog") !== other.closest("dialog");
      return !apart && wide(common) > slack && high(common) > 0.4 * Math.min(high(box), high(others)) ? [`${named(one)} lies on ${named(other)}`] : [];
    }));
  }

  const parts = (colour) => (colour.match(/[\d.]+/g) ?? [0, 0, 0, 0]).map(Number);
  const light = (channel) => (channel /= 255) <= 0.04045 ? channel / 12.92 : ((channel + 0.055) / 1.055) ** 2.4;
  const luminance = (colour) => 0.2126 * light(colour[0]) + 0.7152 * light(colour[1]) + 0.0722 * light(colour[2]);
  function ground(each) {
    for (let at = each; at; at = at.parentElement) {
      const colour = parts(getComputedStyle(at).backgroundColor);
      if ((colour[3] ?? 1) === 1) return colour;
    }
    return [255, 255, 255];
  }
  const contrast = (one, other) => {
    const [low, top] = [luminance(one), luminance(other)].sort((a, b) => a - b);
    return (top + 0.05) / (low + 0.05);
  };

  function faint(least, leastLarge) {
    const words = written().filter((each) => !each.closest(":disabled")).map((each) => [each, getComputedStyle(each)]);
    const hints = [...document.querySelectorAll("[placeholder]")].filter((each) => each.placeholder && isSeen(each))
      .map((each) => [each, getComputedStyle(each, "::placeholder")]);
    return [...words, ...hints].flatMap(([each, style]) => {
      const size = parseFloat(style.fontSize), isLarge = size >= 24 || (size >= 18.66 && Number(style.fontWeight) >= 700);
      const found = contrast(parts(style.color), ground(each));
      return found < (isLarge ? leastLarge : least) ? [`${named(each)} has a contrast of ${found.toFixed(1)}`] : [];
    });
  }

  // In forced colours: what is chosen must differ from its neighbours in what is still drawn then.
  function unchosen() {
    const CHOSEN = "[aria-pressed=true], [aria-current=true], [aria-current=page], [aria-selected=true]";
    const drawn = (each) => {
      const style = getComputedStyle(each);
      return [style.backgroundColor, style.borderTopWidth, style.borderTopColor, style.outlineStyle, style.boxShadow].join("|");
    };
    return [...document.querySelectorAll(CHOSEN)].filter(isSeen).flatMap((each) => {
      const others = [...each.parentElement.children].filter((other) => other !== each && other.tagName === each.tagName && !other.matches(CHOSEN) && !other.disabled && isSeen(other));
      return others.some((other) => drawn(other) === drawn(each)) ? [`${named(each)} looks like ${named(others[0])}`] : [];
    });
  }

  const tooWide = () => {
    const over = document.documentElement.scrollWidth - document.documentElement.clientWidth;
    return over > 0 ? [`the page is ${over} wider than the screen`] : [];
  };

  // A field says what it is for beside it: words inside go when one types. A number there is what counts when it is left.
  function unnamed() {
    return [...document.querySelectorAll("input:is([type=text], [type=search], [type=number], [type=date], [type=time], :not([type])), textarea")]
      .filter((each) => isSeen(each) && !each.disabled)
      .flatMap((each) => {
        const isNamed = each.ariaLabel || [...(each.labels ?? [])].some((label) => isSeen(label) && label.textContent.trim());
        const faults = isNamed ? [] : [`${named(each)} has no label that is seen`];
        return /[a-z]/i.test(each.placeholder) ? [...faults, `${named(each)} says what it is for inside: ${each.placeholder}`] : faults;
      });
  }

  // One next step a screen, and a hand finds it to the right. A row or a card that calls has its own.
  function astray() {
    const next = [...document.querySelectorAll(".button-next")].filter((each) => isSeen(each) && !each.closest("dialog, [popover], li, article, .clock-card"));
    const main = document.querySelector("main").getBoundingClientRect();
    const left = next.filter((each) => each.getBoundingClientRect().right < main.left + 0.6 * main.width);
    return [
      ...next.slice(1).map((each) => `${named(each)} is a second next step beside ${named(next[0])}`),
      ...left.map((each) => `${named(each)} does not lie to the right`),
    ];
  }

  // Words in a column of a few letters, line under line, can't be read on the way past.
  function squeezed(leastLetters) {
    return written().flatMap((each) => {
      const lines = new Set(textBoxes(each).map((box) => Math.round(box.top))).size;
      const letters = [...each.childNodes].filter((node) => node.nodeType === Node.TEXT_NODE).map((node) => node.textContent.trim()).join(" ").length;
      return lines > 3 && letters / lines < leastLetters ? [`${named(each)} stands in ${lines} lines of ${(letters / lines).toFixed(0)} letters`] : [];
    });
  }

  // Words of a control stand within it.
  function spilled(slack) {
    return targets().filter((each) => each.matches("a.button, a.button-next, button.button, button.button-next, a.tab, button.tab")).flatMap((each) => {
      const room = each.getBoundingClientRect();
      return textBoxes(each).some((box) => box.left < room.left - slack || box.right > room.right + slack) ? [`${named(each)} spills out of itself`] : [];
    });
  }

  // Words beyond the margin that the page itself keeps.
  function overMargin(slack) {
    const main = document.querySelector("main"), box = main.getBoundingClientRect();
    const right = box.right - parseFloat(getComputedStyle(main).paddingRight) + slack;
    return written().filter((each) => main.contains(each) && !isStuck(each)).flatMap((each) =>
      textBoxes(each).map((one) => shown(each, one)).some((one) => wide(one) > 1 && one.right > right) ? [`${named(each)} stands in the margin`] : []);
  }

  // What is written in a drawing stays within it, and on nothing else that is written there.
  function drawnOut(slack) {
    return [...document.querySelectorAll("svg")].filter(isSeen).flatMap((drawing) => {
      const room = drawing.getBoundingClientRect();
      const words = [...drawing.querySelectorAll("text")].filter((each) => isSeen(each) && each.textContent.trim() && !each.closest("foreignObject"))
        .map((each) => [each, each.getBoundingClientRect()]).filter(([, box]) => wide(box) > 1);
      const over = getComputedStyle(drawing).overflow === "visible" ? [] : words
        .filter(([, box]) => box.left < room.left - slack || box.right > room.right + slack || box.bottom > room.bottom + slack || box.top < room.top - slack);
      const on = words.flatMap(([one, box], at) => words.slice(at + 1).filter(([, other]) => {
        const common = meet(box, other);
        return wide(common) > slack && high(common) > 0.4 * Math.min(high(box), high(other));
      }).map(([other]) => `${named(one)} lies on ${named(other)}`));
      return [...over.map(([each]) => `${named(each)} goes beyond its drawing`), ...on];
    });
  }

  return { spilled, drawnOut, squeezed, overMargin, unnamed, astray, small, overlapping, cut, colliding, faint, unchosen, tooWide };
})();

// Questions before a session: the voice today, the session, and what today asks of the voice.

import { ask, button, lines, make } from "./screens.js";
import { filled, gettext } from "../../ui/js/words.js";

const SESSION_KEYS = ["b", "g", "h", "j", "k"];
/** A session of a programme beside the main one, and when it is done. */
const titleWithTime = ({ name, when }) => (when ? `${name}: ${when}` : name);

/** Today's sessions in one line: those due, and those done. */
function dayList({ sessions, done_today: done }) {
  const parts = sessions.map(({ name, when, a_day: due, sort }) => {
    const times = (done[sort] ?? 0) + (sort === "full" ? (done.short ?? 0) : 0);
    if (due) return filled(gettext("{name}: {min} of {due} done"), { name, min: Math.min(times, due), due });
    const what = when ? `${name}, ${when}` : name;
    return times ? filled(gettext("{name}: {times} done"), { name: what, times }) : what;
  });
  return filled(gettext("Today: {value}."), { value: parts.join(" · ") });
}

/** How the voice is, which session, and what today asks of it; one press answers all of it. */
export async function askToday(practice) {
  const { plan } = practice;
  let which = plan.sessions[0];
  let sort = which.sort;
  let demands = "";
  const choose = (session, instead = "") => {
    which = session;
    sort = instead || session.sort;
  };
  const toggle = (group, words, key, set) => {
    const made = button(words, {
      key,
      "aria-pressed": "false",
      on: () => {
        const on = made.getAttribute("aria-pressed") !== "true";
        for (const each of group) each.setAttribute("aria-pressed", "false");
        made.setAttribute("aria-pressed", String(on));
        set(on);
      },
    });
    group.push(made);
    return made;
  };
  const sorts = [];
  const asks = [];
  const row = (label, ...buttons) =>
    make("div", { class: "also", role: "group", "aria-label": label }, make("span", {}, label), ...buttons);
  const medication =
    plan.asks_medication &&
    make(
      "label",
      { class: "field" },
      make("span", {}, gettext("Hours since your medication")),
      make("input", { class: "input", inputmode: "decimal", "data-medication": "" }),
    );
  const rest = plan.rest_today
    ? lines([gettext("Today is a rest day in your programme. You can do 30 seconds extra if you like.")])
    : [];
  const full = practice.day.isFull
    ? lines([gettext("You have used your voice enough today. Rest it until tomorrow.")])
    : [];
  const list =
    plan.sessions.length > 1 ? [make("p", { class: "where", "data-list": "" }, dayList(plan))] : [];
  const answer = ask(
    "today",
    gettext("How is your voice today?"),
    Object.entries(plan.voices).map(([value, words], at) => ({ value, words, first: at === 0 })),
    {
      above: [...list, ...rest, ...full],
      below: [
        medication || null,
        row(
          gettext("Instead"),
          toggle(sorts, gettext("a short day"), "d", (on) => choose(plan.sessions[0], on && "short")),
          ...(practice.day.isFull
            ? []
            : [
                toggle(sorts, gettext("30 seconds extra"), "e", (on) =>
                  choose(plan.sessions[0], on && "extra"),
                ),
              ]),
          ...plan.sessions
            .slice(1)
            .map((each, at) =>
              toggle(sorts, titleWithTime(each), SESSION_KEYS[at], (on) =>
                choose(on ? each : plan.sessions[0]),
              ),
            ),
        ),
        row(
          gettext("Voice use today"),
          ...[
            ["little", gettext("little"), "l"],
            ["usual", gettext("the usual"), "u"],
            ["much", gettext("much"), "m"],
          ].map(([value, words, key]) => toggle(asks, words, key, (on) => (demands = on ? value : ""))),
        ),
      ].filter(Boolean),
      interrupted: practice.interrupt.now,
    },
  );
  const voice = await answer;
  const hours = Number((document.querySelector("[data-medication]")?.value ?? "").replace(",", ".") || NaN);
  return { voice, sort, which, demands, hours: hours >= 0 && hours <= 72 ? hours : null };
}

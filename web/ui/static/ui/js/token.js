// What a form is sent with, as it is now: whoever signs in again, in another tab, has another.

const cookie = (name) =>
  document.cookie
    .split("; ")
    .find((each) => each.startsWith(`${name}=`))
    ?.slice(name.length + 1);

/** The cookie's own, or else that of the page. */
export const csrfToken = () =>
  cookie("csrftoken") ?? document.querySelector("[name=csrfmiddlewaretoken]")?.value ?? "";

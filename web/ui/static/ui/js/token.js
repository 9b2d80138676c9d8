// The CSRF token of a form. It is read each time, because signing in again in another tab changes it.

const cookie = (name) =>
  document.cookie
    .split("; ")
    .find((each) => each.startsWith(`${name}=`))
    ?.slice(name.length + 1);

/** The cookie's value, or else the page's. */
export const csrfToken = () =>
  cookie("csrftoken") ?? document.querySelector("[name=csrfmiddlewaretoken]")?.value ?? "";

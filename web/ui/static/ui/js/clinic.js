// Script of every clinician's page; a page's own script imports it first.

import "./first_field.js";
import "./keys.js";
import "./unsaved.js";

/** Makes external text safe before it reaches a terminal, a page or JSON. */
package dev.dusky.core.text;

/** Text on its way to people: whatever it contains, it does nothing but show. */
package dev.dusky.core.text;

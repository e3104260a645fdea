/** Work on other machines: what they are given, and what they report. */
package dev.dusky.core.dispatch;

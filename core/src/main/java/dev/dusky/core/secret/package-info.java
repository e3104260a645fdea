/** Secrets, which are referred to and never shown. */
package dev.dusky.core.secret;

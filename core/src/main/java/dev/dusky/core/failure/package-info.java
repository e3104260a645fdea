/** Failures: what failed, where, why, and a hint what to do next. */
package dev.dusky.core.failure;

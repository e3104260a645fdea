/** How every part says what failed, where, why, and what to do next. */
package dev.dusky.core.failure;

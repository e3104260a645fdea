/** Rejects understood: grouped by what is wrong, with the ways out that fit their values. */
package dev.dusky.core.advice;

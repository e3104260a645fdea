/** Rejects analysed: grouped by what is wrong, with the remedies that fit their values. */
package dev.dusky.core.advice;

/** JSON values of a declared form, read into structures, lists and maps of typed values. */
package dev.dusky.core.nested;

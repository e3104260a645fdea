/** Looking at some records of one file without loading them. */
package dev.dusky.core.look;

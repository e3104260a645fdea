/** The port to object storage: staged files and their bytes. */
package dev.dusky.core.depot;

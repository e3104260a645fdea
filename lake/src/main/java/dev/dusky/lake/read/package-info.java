/** The rows of data files as they are in force, and where they came from. */
package dev.dusky.lake.read;

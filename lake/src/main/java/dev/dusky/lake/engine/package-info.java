/** SQL over the tables on an engine: a process that takes requests line by line. */
package dev.dusky.lake.engine;

/** SQL over the tables on an engine: a process that is told what to do by lines. */
package dev.dusky.lake.engine;

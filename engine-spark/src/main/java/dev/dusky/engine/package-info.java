/**
 * The engine: a process of ours that runs SQL over open-format tables, told what to do by lines.
 */
package dev.dusky.engine;

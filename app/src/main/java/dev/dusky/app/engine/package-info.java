/** Brings the engine's libraries onto this machine. */
package dev.dusky.app.engine;

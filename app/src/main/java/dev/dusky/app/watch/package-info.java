/** The service that keeps feeds up to date, and its HTTP endpoint. */
package dev.dusky.app.watch;

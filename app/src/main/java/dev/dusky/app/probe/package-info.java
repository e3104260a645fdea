/** The use cases: try rights and list the rights that are needed. */
package dev.dusky.app.probe;

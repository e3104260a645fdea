/** Which rights a depot needs for what a configuration does with it, and trying them. */
package dev.dusky.core.probe;

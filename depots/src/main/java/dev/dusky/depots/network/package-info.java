/** Connections: the authorities that are trusted, and the proxies that are used. */
package dev.dusky.depots.network;

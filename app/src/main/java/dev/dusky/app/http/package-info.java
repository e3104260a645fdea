/**
 * What the program serves over HTTP: few threads for any number of connections, and bounds for the
 * size and time of every request.
 */
package dev.dusky.app.http;

/** Files behind a web server, which are only read. */
package dev.dusky.depots.web;

/** Where a depot is, how its requests are authorised and sent, and how files are stored there. */
package dev.dusky.depots.address;

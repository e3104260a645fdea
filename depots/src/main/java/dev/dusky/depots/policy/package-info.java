/** The smallest policies of access that the use of a depot needs, in the terms of its store. */
package dev.dusky.depots.policy;

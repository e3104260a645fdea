/** How a file's bytes become records: the declared layout and its policies, each a type. */
package dev.dusky.core.layout;

/** JSON as it is in a record's bytes: a flat tree over them, and JSONPath (RFC 9535) on it. */
package dev.dusky.core.json;

/**
 * Collecting a stream of records into files of good size: kept in a spool on local disk until the
 * depot has them, so that a kill loses nothing and doubles nothing.
 */
package dev.dusky.core.stream;

/**
 * Readers that need big libraries: Avro, Parquet, ORC, workbooks and XML. Each is found through
 * {@link java.util.ServiceLoader}, so that none of their classes is loaded unless a file needs it.
 */
package dev.dusky.formats;

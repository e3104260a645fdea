/** The depots: a directory, and object storage that speaks the S3 protocol. */
package dev.dusky.depots;

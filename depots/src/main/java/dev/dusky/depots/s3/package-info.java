/** Object storage that speaks the S3 protocol. */
package dev.dusky.depots.s3;

/** The files of tables: data, manifests and metadata, in a folder or an object store. */
package dev.dusky.lake.file;

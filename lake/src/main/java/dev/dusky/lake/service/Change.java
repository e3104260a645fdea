package dev.dusky.lake.service;

import java.util.Optional;
import org.apache.iceberg.TableMetadata;

/**
 * How a transaction changes a table.
 *
 * @param base as the catalog had it; nothing for a new table
 * @param location where the metadata is that it gets; nothing if it is dropped
 */
record Change(Optional<TableMetadata> base, Optional<String> location) {}

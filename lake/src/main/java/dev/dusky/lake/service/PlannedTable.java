package dev.dusky.lake.service;

import org.apache.iceberg.BaseTable;
import org.apache.iceberg.LocationProviders;
import org.apache.iceberg.TableMetadata;
import org.apache.iceberg.TableOperations;
import org.apache.iceberg.io.FileIO;
import org.apache.iceberg.io.LocationProvider;

/**
 * A table that is changed in memory alone: what the library commits becomes metadata that knows its
 * changes. Manifests are written.
 */
final class PlannedTable implements TableOperations {

  private final FileIO files;
  private TableMetadata metadata;

  PlannedTable(TableMetadata metadata, FileIO files) {
    this.metadata = metadata;
    this.files = files;
  }

  /** The table, to be changed by one operation. */
  BaseTable table(String name) {
    return new BaseTable(this, name);
  }

  @Override
  public TableMetadata current() {
    return metadata;
  }

  @Override
  public TableMetadata refresh() {
    return metadata;
  }

  @Override
  public void commit(TableMetadata base, TableMetadata changed) {
    metadata = changed;
  }

  @Override
  public FileIO io() {
    return files;
  }

  @Override
  public String metadataFileLocation(String name) {
    return metadata.location() + "/metadata/" + name;
  }

  @Override
  public LocationProvider locationProvider() {
    return LocationProviders.locationsFor(metadata.location(), metadata.properties());
  }
}

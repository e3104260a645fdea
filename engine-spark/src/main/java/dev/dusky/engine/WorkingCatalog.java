package dev.dusky.engine;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.apache.hadoop.conf.Configurable;
import org.apache.hadoop.conf.Configuration;
import org.apache.iceberg.BaseMetastoreCatalog;
import org.apache.iceberg.BaseMetastoreTableOperations;
import org.apache.iceberg.CatalogProperties;
import org.apache.iceberg.CatalogUtil;
import org.apache.iceberg.TableMetadata;
import org.apache.iceberg.TableOperations;
import org.apache.iceberg.catalog.Namespace;
import org.apache.iceberg.catalog.SupportsNamespaces;
import org.apache.iceberg.catalog.TableIdentifier;
import org.apache.iceberg.exceptions.AlreadyExistsException;
import org.apache.iceberg.exceptions.CommitFailedException;
import org.apache.iceberg.io.FileIO;

/**
 * The catalog of this process: {@link WorkingPointers} as the engine asks for them. It has every
 * namespace that it is asked for.
 */
public final class WorkingCatalog extends BaseMetastoreCatalog
    implements SupportsNamespaces, Configurable {

  private String name;
  private String place;
  private Configuration configuration;
  private FileIO files;

  /** Made by the engine, by its class. */
  public WorkingCatalog() {}

  @Override
  public void setConf(Configuration conf) {
    configuration = conf;
  }

  @Override
  public Configuration getConf() {
    return configuration;
  }

  @Override
  public String name() {
    return name;
  }

  @Override
  public void initialize(String catalog, Map<String, String> properties) {
    name = catalog;
    place = properties.get(CatalogProperties.WAREHOUSE_LOCATION);
    files = WorkingPointers.HERE.files();
    if (files == null) {
      files =
          CatalogUtil.loadFileIO(
              properties.getOrDefault(
                  CatalogProperties.FILE_IO_IMPL, "org.apache.iceberg.hadoop.HadoopFileIO"),
              properties,
              configuration);
      WorkingPointers.HERE.files(files);
    }
  }

  @Override
  protected TableOperations newTableOps(TableIdentifier table) {
    return new Operations(table);
  }

  @Override
  protected String defaultWarehouseLocation(TableIdentifier table) {
    return "%s/%s".formatted(place, String.join("/", table.namespace().levels()))
        + "/"
        + table.name();
  }

  @Override
  public List<TableIdentifier> listTables(Namespace namespace) {
    return WorkingPointers.HERE.in(namespace);
  }

  @Override
  public boolean dropTable(TableIdentifier table, boolean purge) {
    return WorkingPointers.HERE.drop(table);
  }

  @Override
  public void renameTable(TableIdentifier from, TableIdentifier to) {
    throw new UnsupportedOperationException("tables keep their names");
  }

  @Override
  public void createNamespace(Namespace namespace, Map<String, String> metadata) {
    throw new AlreadyExistsException("Namespace %s exists", namespace);
  }

  @Override
  public List<Namespace> listNamespaces(Namespace namespace) {
    return List.of();
  }

  @Override
  public Map<String, String> loadNamespaceMetadata(Namespace namespace) {
    return Map.of();
  }

  @Override
  public boolean dropNamespace(Namespace namespace) {
    return false;
  }

  @Override
  public boolean setProperties(Namespace namespace, Map<String, String> properties) {
    return false;
  }

  @Override
  public boolean removeProperties(Namespace namespace, Set<String> properties) {
    return false;
  }

  /** The operations of one table. */
  private final class Operations extends BaseMetastoreTableOperations {

    private final TableIdentifier table;

    private Operations(TableIdentifier table) {
      this.table = table;
    }

    @Override
    protected String tableName() {
      return table.toString();
    }

    @Override
    public FileIO io() {
      return files;
    }

    @Override
    protected void doRefresh() {
      String metadata = WorkingPointers.HERE.find(table);
      if (metadata == null) {
        disableRefresh();
      } else {
        refreshFromMetadataLocation(metadata);
      }
    }

    @Override
    protected void doCommit(TableMetadata base, TableMetadata metadata) {
      String written = writeNewMetadataIfRequired(base == null, metadata);
      if (!WorkingPointers.HERE.move(table, base, metadata, written)) {
        files.deleteFile(written);
        throw new CommitFailedException("Table %s was changed by another statement", table);
      }
    }
  }
}

package dev.dusky.engine;

import java.nio.file.Path;
import org.apache.spark.SparkConf;
import org.apache.spark.sql.SparkSession;

/** Opens the engine's session as our statements need it. */
final class Sessions {

  /** The name of the catalog; no schema has it. */
  static final String CATALOG = "dusky_tables";

  private Sessions() {}

  /**
   * Opens one.
   *
   * @param arguments options, each {@code name=value}
   * @param folder where it may keep what it needs itself
   */
  static SparkSession open(String[] arguments, Path folder) {
    SparkConf options = new SparkConf();
    options.set("spark.master", "local[*]");
    options.set("spark.app.name", "Dusky Ledger");
    options.set("spark.ui.enabled", "false");
    options.set("spark.sql.shuffle.partitions", "8");
    // A number that does not fit stops a statement; it is never replaced by another or by null.
    options.set("spark.sql.ansi.enabled", "true");
    options.set("spark.sql.session.timeZone", "UTC");
    options.set("spark.sql.timestampType", "TIMESTAMP_NTZ");
    options.set("spark.sql.storeAssignmentPolicy", "ANSI");
    options.set(
        "spark.sql.extensions",
        "org.apache.iceberg.spark.extensions.IcebergSparkSessionExtensions");
    options.set("spark.sql.catalog." + CATALOG, "org.apache.iceberg.spark.SparkCatalog");
    options.set("spark.sql.catalog." + CATALOG + ".catalog-impl", WorkingCatalog.class.getName());
    options.set("spark.sql.catalog." + CATALOG + ".cache-enabled", "false");
    options.set("spark.sql.defaultCatalog", CATALOG);
    // Else there would be a folder for them where the program was started.
    options.set("spark.sql.warehouse.dir", folder.toUri().toString());
    // No checksum files beside the tables' files.
    options.set("spark.hadoop.fs.file.impl", PlainFolder.class.getName());
    // Unless the options say otherwise the session is this machine's alone.
    options.set("spark.driver.host", "127.0.0.1");
    options.set("spark.driver.bindAddress", "127.0.0.1");
    for (String argument : arguments) {
      int at = argument.indexOf('=');
      options.set(argument.substring(0, at), argument.substring(at + 1));
    }
    return SparkSession.builder().config(options).getOrCreate();
  }
}

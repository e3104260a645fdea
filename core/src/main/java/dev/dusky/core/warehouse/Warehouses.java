package dev.dusky.core.warehouse;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tables.DetachedTable;
import java.nio.file.Path;
import java.util.Optional;
import java.util.ServiceLoader;
import java.util.stream.Collectors;

/** Finds the provider of a warehouse by its address. */
public final class Warehouses {

  private Warehouses() {}

  /** Opens the warehouse with these settings. */
  public static Warehouse open(WarehouseSettings settings) {
    return provider(settings.url())
        .orElseThrow(
            () ->
                Failure.configuration("Unknown kind of warehouse: " + settings.url())
                    .hint("Use " + forms()))
        .open(settings);
  }

  /** A landing table of such a warehouse, without its ledger. */
  public static DetachedTable detached(
      WarehouseSettings settings, TableName table, String described) {
    return provider(settings.url()).orElseThrow().detached(settings, table, described);
  }

  /** The address with relative paths resolved against a directory; empty if no kind is known. */
  public static Optional<String> resolve(String url, Path base) {
    return provider(url).map(provider -> provider.resolve(url, base));
  }

  /** The forms of all addresses, for people. */
  public static String forms() {
    return ServiceLoader.load(WarehouseProvider.class).stream()
        .map(provider -> provider.get().form())
        .sorted()
        .collect(Collectors.joining(" or "));
  }

  private static Optional<WarehouseProvider> provider(String url) {
    return ServiceLoader.load(WarehouseProvider.class).stream()
        .map(ServiceLoader.Provider::get)
        .filter(provider -> provider.serves(url))
        .findFirst();
  }
}

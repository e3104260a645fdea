package dev.dusky.core.warehouse;

import dev.dusky.core.failure.Failure;
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
                    .next("Use " + forms()))
        .open(settings);
  }

  /** Whether some provider opens addresses of that form. */
  public static boolean known(String url) {
    return provider(url).isPresent();
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

package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.EngineSettings;
import dev.dusky.core.warehouse.LakeSettings;
import dev.dusky.core.warehouse.ResultTaker;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.Warehouses;
import dev.dusky.lake.EngineFolder;
import dev.dusky.lake.TableStatements;
import java.io.IOException;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;

/** Tables with one engine for all tests of this process, and their ledger in H2. */
final class OneLake {

  private static Warehouse opened;

  private OneLake() {}

  /** The warehouse; to close it does nothing, as the engine stays for the next test. */
  static synchronized Warehouse open() throws IOException {
    if (opened == null) {
      opened = open("local[2]");
    }
    return opened;
  }

  /** One in a folder with its engine at that place, until this process ends. */
  static Warehouse open(String at) throws IOException {
    Path folder = Files.createTempDirectory(Path.of("target"), "lake").toAbsolutePath();
    return open(at, folder, "file:" + folder.resolve("tables"), Optional.empty());
  }

  /** One whose tables are in a store, with its engine at that place. */
  static Warehouse open(String at, LakeSettings.Store store) throws IOException {
    Path folder = Files.createTempDirectory(Path.of("target"), "lake").toAbsolutePath();
    return open(at, folder, TableStore.PLACE, Optional.of(store));
  }

  private static Warehouse open(
      String at, Path folder, String place, Optional<LakeSettings.Store> store) throws IOException {
    EngineSettings engine =
        new EngineSettings(
            at, Optional.of(home()), "1g", Map.of("spark.sql.shuffle.partitions", "1"));
    Warehouse lake =
        Warehouses.open(
            new LakeSettings(
                place,
                store,
                new DatabaseSettings(
                    "jdbc:h2:mem:" + folder.getFileName() + ";DB_CLOSE_DELAY=-1",
                    Optional.of("sa"),
                    Optional.empty()),
                Optional.of(engine),
                Optional.empty()));
    Runtime.getRuntime().addShutdownHook(new Thread(lake::close));
    return forTests(lake);
  }

  /** The engine's libraries. */
  static Path home() throws IOException {
    return EngineFolder.in(Path.of("target", "engine").toAbsolutePath());
  }

  private static Warehouse forTests(Warehouse lake) {
    return (Warehouse)
        Proxy.newProxyInstance(
            Warehouse.class.getClassLoader(),
            new Class<?>[] {Warehouse.class},
            (proxy, method, args) -> {
              if (method.getName().equals("close")) {
                return null;
              }
              if (method.getName().equals("run")) {
                TableStatements.run(lake, (String) args[0], (ResultTaker) args[1]);
                return null;
              }
              try {
                return method.invoke(lake, args);
              } catch (InvocationTargetException e) {
                throw e.getCause();
              }
            });
  }
}

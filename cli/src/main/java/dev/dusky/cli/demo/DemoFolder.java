package dev.dusky.cli.demo;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.HexFormat;

/**
 * The folder of a demo.
 *
 * @param root the folder
 */
public record DemoFolder(Path root) {

  private static final long SEED = 20_260_302;
  private static final int DOCKETS_PER_HOUR = 2_080;

  /** Where the files are that arrived. */
  public Path outbox() {
    return root.resolve("outbox");
  }

  /** Where the stand-in keeps its buckets. */
  public Path buckets() {
    return root.resolve("buckets");
  }

  /** The configuration. */
  public Path configuration() {
    return root.resolve("dusky.yaml");
  }

  /** Makes the folder with the day's files and fresh keys; it must not exist. */
  public static DemoFolder create(Path root) throws IOException {
    if (Files.exists(root)) {
      throw Failure.usage(root + " exists already")
          .hint("Remove it, or name another folder for the demo");
    }
    DemoFolder folder = new DemoFolder(Files.createDirectories(root));
    new WrenfoldData(SEED, DOCKETS_PER_HOUR).write(folder.outbox(), root.resolve("late"));
    Files.writeString(root.resolve("yard.key"), "yard-" + randomHex(6));
    Files.writeString(root.resolve("yard.secret"), randomHex(20));
    return folder;
  }

  /** A folder that an earlier demo made. */
  public static DemoFolder existing(Path root) {
    if (!Files.isRegularFile(root.resolve("yard.key"))) {
      throw Failure.usage(root.toAbsolutePath().normalize() + " is not a folder of the demo")
          .hint("Make one with {}", Invocation.of("demo"));
    }
    return new DemoFolder(root);
  }

  private static String randomHex(int bytes) {
    byte[] value = new byte[bytes];
    new SecureRandom().nextBytes(value);
    return HexFormat.of().formatHex(value);
  }

  String accessKey() throws IOException {
    return Files.readString(root.resolve("yard.key"));
  }

  String secretKey() throws IOException {
    return Files.readString(root.resolve("yard.secret"));
  }

  /** Writes the configuration for a depot at that endpoint, and a warehouse. */
  void configure(String endpoint, String warehouse) throws IOException {
    Files.writeString(
        configuration(),
        """
        # The demo of Dusky Ledger: the made-up Wrenfold Dairy Cooperative.
        %s
        depots:
          yard:
            at: "s3://wrenfold-intake/daily"
            endpoint: "%s"
            access-key: file:yard.key
            secret-key: file:yard.secret

        # Layouts and feeds are drafted from the files: dusky draft yard:
        """
            .formatted(warehouse, endpoint));
  }
}

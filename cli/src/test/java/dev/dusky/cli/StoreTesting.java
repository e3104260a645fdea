package dev.dusky.cli;

import dev.dusky.standin.StandIn;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;

/** The built program with an object store, a depot in a directory and an embedded warehouse. */
abstract class StoreTesting {

  @TempDir Path folder;
  StandIn store;
  Program dusky;

  @BeforeEach
  final void startStore() throws IOException {
    Files.createDirectories(folder.resolve("buckets/intake"));
    store = StandIn.start(folder.resolve("buckets"), "key", "secret", 0);
    dusky =
        Program.within(folder)
            .file("key.txt", "key")
            .file("secret.txt", "secret")
            .file(
                "dusky.yaml",
                """
                warehouse: jdbc:h2:file:./warehouse
                depots:
                  yard: { at: "file:yard" }
                  store: { at: "s3://intake", endpoint: "%s", access-key: file:key.txt, secret-key: file:secret.txt }
                layouts: { csv: { kind: delimited }, json: { kind: json } }
                feeds:
                  dockets:
                    depot: yard
                    files: "in/*.csv*"
                    layout: csv
                    into: intake.docket
                    create: true
                    totals: [litres]
                    columns: { no: bigint not null, remark: text, litres: "decimal(9,1)" }
                """
                    .formatted(store.endpoint()));
  }

  @AfterEach
  final void stopStore() {
    store.close();
  }

  /** The lines of all files of a stream that are stored, in the order of the files' names. */
  final List<String> storedLines() throws IOException {
    List<String> lines = new ArrayList<>();
    for (byte[] file : StoredFiles.of(folder.resolve("buckets/intake"), "ev/")) {
      new String(file, StandardCharsets.UTF_8).lines().forEach(lines::add);
    }
    return lines;
  }
}

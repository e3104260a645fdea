package dev.dusky.bench;

import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;
import java.util.Random;

/** Clean tanker dockets in eight columns, about 65 bytes a row; the same seed, the same bytes. */
final class BenchData {

  /** The landing table's columns as SQL. */
  static final String COLUMNS =
      "docket_no bigint not null, farm_code varchar(8) not null, collected_at timestamp(6) not null,"
          + " litres decimal(9,1) not null, fat decimal(5,2), protein decimal(5,2),"
          + " remark varchar(60), grade char(1)";

  private static final String[] REMARKS = {
    "sample taken", "gate locked, waited", "second tank", "new driver", "as usual, no delay"
  };

  private BenchData() {}

  /** Writes rows with a header. */
  static Path write(Path file, long rows) throws IOException {
    Random random = new Random(9420);
    try (OutputStream out = new BufferedOutputStream(Files.newOutputStream(file), 1 << 20)) {
      out.write(
          "docket_no,farm_code,collected_at,litres,fat,protein,remark,grade\n"
              .getBytes(StandardCharsets.UTF_8));
      for (long row = 0; row < rows; row++) {
        String line =
            String.format(
                Locale.ROOT,
                "%d,WF%04d,2026-%02d-%02d %02d:%02d:%02d,%d.%d,%d.%02d,%d.%02d,\"%s\",%c\n",
                480_000 + row,
                random.nextInt(10_000),
                1 + random.nextInt(12),
                1 + random.nextInt(28),
                random.nextInt(24),
                random.nextInt(60),
                random.nextInt(60),
                random.nextInt(30_000),
                random.nextInt(10),
                3 + random.nextInt(3),
                random.nextInt(100),
                2 + random.nextInt(3),
                random.nextInt(100),
                REMARKS[random.nextInt(REMARKS.length)],
                'A' + random.nextInt(4));
        out.write(line.getBytes(StandardCharsets.UTF_8));
      }
    }
    return file;
  }
}

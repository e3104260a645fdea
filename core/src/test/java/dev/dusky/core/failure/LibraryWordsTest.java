package dev.dusky.core.failure;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.io.IOException;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class LibraryWordsTest {

  @ParameterizedTest
  @CsvSource({
    "dev.dusky.formats.ParquetInput@52feb982 is not a file, the file is not a file",
    "sun.nio.ch.ContentChannel@1a2b3c4d ended, the file ended",
    "Problem opening stripe 0 footer in /content.orc., Problem opening stripe 0 footer in the file.",
    "java.io.EOFException: Read past the end, Read past the end",
    "org.apache.avro.AvroRuntimeException: Malformed data, Malformed data",
    "no class for org.apache.parquet.Some$Thing here, no class for the reader here",
    "the mail a@beef and the word Exception stay, the mail the file and the word Exception stay",
    "42 of 43 bytes were read, 42 of 43 bytes were read",
  })
  void nothingOfTheProgramIsTold(String said, String told) {
    assertEquals(told, LibraryWords.of(new IOException(said + "\nand more")));
  }

  @Test
  void placesOnThisMachineAreNotTold() {
    Path copy = Path.of(System.getProperty("java.io.tmpdir"), "dusky-1", "a.xlsx");
    assertEquals(
        "its temporary copy has no end", LibraryWords.of(new IOException(copy + " has no end")));
  }

  @Test
  void whoSaysNothingIsToldByItsKind() {
    assertEquals(
        "its content is malformed (IllegalStateException)",
        LibraryWords.of(new IllegalStateException()));
  }
}

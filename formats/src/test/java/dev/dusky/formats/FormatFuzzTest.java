package dev.dusky.formats;

import com.code_intelligence.jazzer.junit.FuzzTest;

/** Any bytes are records or the refusal of one file, in each format that needs a library. */
class FormatFuzzTest {

  @FuzzTest(maxDuration = "10m")
  void avro(byte[] bytes) throws Exception {
    DamagedFilesTest.readOrRefuse(bytes, DamagedFilesTest.Sound.AVRO);
  }

  @FuzzTest(maxDuration = "10m")
  void parquet(byte[] bytes) throws Exception {
    DamagedFilesTest.readOrRefuse(bytes, DamagedFilesTest.Sound.PARQUET);
  }

  @FuzzTest(maxDuration = "10m")
  void orc(byte[] bytes) throws Exception {
    DamagedFilesTest.readOrRefuse(bytes, DamagedFilesTest.Sound.ORC_DEFLATED);
  }

  @FuzzTest(maxDuration = "10m")
  void workbook(byte[] bytes) throws Exception {
    DamagedFilesTest.readOrRefuse(bytes, DamagedFilesTest.Sound.WORKBOOK);
  }

  @FuzzTest(maxDuration = "10m")
  void xml(byte[] bytes) throws Exception {
    DamagedFilesTest.readOrRefuse(bytes, DamagedFilesTest.Sound.XML);
  }
}

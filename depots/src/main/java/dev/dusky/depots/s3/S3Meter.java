package dev.dusky.depots.s3;

import dev.dusky.core.usage.Meter;
import dev.dusky.core.usage.Request;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.Optional;
import software.amazon.awssdk.core.interceptor.Context;
import software.amazon.awssdk.core.interceptor.ExecutionAttributes;
import software.amazon.awssdk.core.interceptor.ExecutionInterceptor;
import software.amazon.awssdk.core.interceptor.SdkExecutionAttribute;

/**
 * Counts requests and bytes for the meter of the thread that makes them; each attempt is a request,
 * as stores charge for it.
 */
final class S3Meter implements ExecutionInterceptor {

  @Override
  public void beforeTransmission(
      Context.BeforeTransmission context, ExecutionAttributes attributes) {
    Meter.current()
        .ifPresent(
            meter -> {
              meter.request(kind(attributes.getAttribute(SdkExecutionAttribute.OPERATION_NAME)));
              context
                  .httpRequest()
                  .firstMatchingHeader("Content-Length")
                  .ifPresent(length -> meter.sent(Long.parseLong(length)));
            });
  }

  /** The kind of an operation of the protocol. */
  static Request kind(String operation) {
    if (operation.startsWith("List")) {
      return Request.LIST;
    }
    if (operation.startsWith("Get") || operation.startsWith("Head")) {
      return Request.GET;
    }
    if (operation.startsWith("Delete") || operation.startsWith("Abort")) {
      return Request.DELETE;
    }
    return operation.contains("Copy") ? Request.COPY : Request.PUT;
  }

  @Override
  public Optional<InputStream> modifyHttpResponseContent(
      Context.ModifyHttpResponse context, ExecutionAttributes attributes) {
    Optional<InputStream> body = context.responseBody();
    Optional<Meter> meter = Meter.current();
    return body.isPresent() && meter.isPresent()
        ? Optional.of(new Counted(body.get(), meter.get()))
        : body;
  }

  /** Counts what is read, for the meter that counted the request. */
  private static final class Counted extends FilterInputStream {

    private final Meter meter;

    Counted(InputStream in, Meter meter) {
      super(in);
      this.meter = meter;
    }

    @Override
    public int read() throws IOException {
      int value = in.read();
      meter.received(value < 0 ? 0 : 1);
      return value;
    }

    @Override
    public int read(byte[] bytes, int offset, int length) throws IOException {
      int count = in.read(bytes, offset, length);
      meter.received(Math.max(0, count));
      return count;
    }
  }
}

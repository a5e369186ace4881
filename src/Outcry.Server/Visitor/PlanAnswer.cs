using System.Buffers;
using System.Text.Json;

namespace Outcry.Server.Visitor;

/// <summary>Writes a plan into the response's own buffers.</summary>
internal sealed class PlanAnswer(PlanResponse plan) : IResult
{
    private const int UsualBytes = 16 * 1024;

    [ThreadStatic]
    private static ArrayBufferWriter<byte>? t_buffer;

    [ThreadStatic]
    private static Utf8JsonWriter? t_writer;

    public Task ExecuteAsync(HttpContext httpContext)
    {
        // Written whole before anything goes out, so that a plan that cannot be written is answered as what it is.
        var buffer = t_buffer ??= new ArrayBufferWriter<byte>(UsualBytes);
        var writer = t_writer ??= new Utf8JsonWriter(buffer, new JsonWriterOptions { SkipValidation = true });
        buffer.ResetWrittenCount();
        writer.Reset(buffer);
        JsonSerializer.Serialize(writer, plan, VisitorJson.Default.PlanResponse);
        writer.Flush();
        var response = httpContext.Response;
        response.ContentType = "application/json";
        response.ContentLength = buffer.WrittenCount;
        response.BodyWriter.Write(buffer.WrittenSpan);
        // One plan in a thousand is longer; its buffer is not kept for the others.
        if (buffer.Capacity > 4 * UsualBytes)
            (t_buffer, t_writer) = (null, null);
        return response.BodyWriter.FlushAsync(httpContext.RequestAborted).AsTask();
    }
}

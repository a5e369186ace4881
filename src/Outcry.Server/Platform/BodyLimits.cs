using System.Buffers;

namespace Outcry.Server.Platform;

/// <summary>How much may be sent where, in bytes.</summary>
internal static class BodyLimits
{
    public const int DeskBytes = 1024 * 1024;
    public const int IntakeBytes = 256 * 1024;
    public const int VisitorBytes = 64 * 1024;

    /// <summary>A body that is not there by then is not waited for, however steadily it drips.</summary>
    private static readonly TimeSpan Deadline = TimeSpan.FromSeconds(20);

    /// <summary>Reads a whole body, or null as soon as it proves longer than the limit.</summary>
    /// <exception cref="BadHttpRequestException">408: the body was not there within 20 seconds.</exception>
    public static async ValueTask<byte[]?> TryReadAsync(HttpRequest request, int limitBytes, CancellationToken stop)
    {
        if (request.ContentLength > limitBytes)
            return null;
        // Most bodies have come with their headers; only one that is still under way is timed.
        if (request.BodyReader.TryRead(out var there))
        {
            if (there.Buffer.Length > limitBytes)
            {
                request.BodyReader.AdvanceTo(there.Buffer.End);
                return null;
            }
            if (there.IsCompleted)
            {
                var whole = there.Buffer.ToArray();
                request.BodyReader.AdvanceTo(there.Buffer.End);
                return whole;
            }
            request.BodyReader.AdvanceTo(there.Buffer.Start, there.Buffer.End);
        }
        using var late = CancellationTokenSource.CreateLinkedTokenSource(stop);
        late.CancelAfter(Deadline);
        try
        {
            return await ReadAsync(request, limitBytes, late.Token);
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            throw new BadHttpRequestException("The body came too slowly.", StatusCodes.Status408RequestTimeout);
        }
    }

    private static async ValueTask<byte[]?> ReadAsync(HttpRequest request, int limitBytes, CancellationToken stop)
    {
        while (true)
        {
            var read = await request.BodyReader.ReadAsync(stop);
            if (read.Buffer.Length > limitBytes)
            {
                request.BodyReader.AdvanceTo(read.Buffer.End);
                return null;
            }
            if (read.IsCompleted)
            {
                var body = read.Buffer.ToArray();
                request.BodyReader.AdvanceTo(read.Buffer.End);
                return body;
            }
            request.BodyReader.AdvanceTo(read.Buffer.Start, read.Buffer.End);
        }
    }
}

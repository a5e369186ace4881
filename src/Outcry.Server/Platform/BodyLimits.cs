using System.Buffers;

namespace Outcry.Server.Platform;

/// <summary>How much may be sent where, in bytes.</summary>
internal static class BodyLimits
{
    public const int DeskBytes = 1024 * 1024;
    public const int IntakeBytes = 256 * 1024;
    public const int VisitorBytes = 64 * 1024;

    /// <summary>Reads a whole body, or null as soon as it proves longer than the limit.</summary>
    public static async ValueTask<byte[]?> TryReadAsync(HttpRequest request, int limitBytes, CancellationToken stop)
    {
        if (request.ContentLength > limitBytes)
            return null;
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

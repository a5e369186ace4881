using SkiaSharp;

namespace Outcry.Server.Pictures;

/// <summary>A picture as it is kept: looked into, not believed by its name, and no larger than a callout can show.</summary>
/// <param name="MediaType">As found in the bytes.</param>
internal sealed record PictureFile(byte[] Bytes, string MediaType, int Width, int Height, bool IsMoving)
{
    /// <summary>Largest file taken, in bytes.</summary>
    public const int MostBytes = 8 * 1024 * 1024;

    /// <summary>Largest moving picture kept, in bytes: every visitor loads it.</summary>
    public const int MostMovingBytes = 1024 * 1024;

    /// <summary>Longest side of a still picture as it is kept, in pixels: twice what a curtain shows.</summary>
    public const int LongestSide = 960;

    // A few bytes can claim to be a picture of any size; decoding it would take all memory there is. A JPEG is decoded at a
    // fraction of its size, everything else whole: 4 bytes a pixel.
    private const long MostPixels = 12_000_000;
    private const long MostJpegPixels = 100_000_000;
    private const int MostFrames = 300;
    private const long MostMovingPixels = 40_000_000;
    private const int Quality = 82;

    // Two at once on a node: what one takes is bounded, and so is what all take.
    private static readonly SemaphoreSlim Places = new(2);

    /// <summary>Looks into bytes; the picture, or a sentence for the person who sent them.</summary>
    public static async Task<(PictureFile? Picture, string Fault)> ReadAsync(byte[] bytes, CancellationToken stop)
    {
        await Places.WaitAsync(stop);
        try
        {
            return await Task.Run(() => Read(bytes), stop);
        }
        finally
        {
            Places.Release();
        }
    }

    private static (PictureFile? Picture, string Fault) Read(byte[] bytes)
    {
        using var data = SKData.CreateCopy(bytes);
        using var codec = SKCodec.Create(data);
        if (codec is null)
            return (null, $"This is no picture that browsers show: {Found(bytes)}. Take a PNG, JPEG, WebP or GIF.");
        var (width, height) = (codec.Info.Width, codec.Info.Height);
        if (
            codec.EncodedFormat
            is not (
                SKEncodedImageFormat.Png
                or SKEncodedImageFormat.Jpeg
                or SKEncodedImageFormat.Webp
                or SKEncodedImageFormat.Gif
            )
        )
            return (
                null,
                $"Pictures of the sort {codec.EncodedFormat} are not shown by every browser. Take a PNG, JPEG, WebP or GIF."
            );
        var most = codec.EncodedFormat == SKEncodedImageFormat.Jpeg ? MostJpegPixels : MostPixels;
        if ((long)width * height > most)
            return (null, $"The picture is {width} by {height}; at most {most / 1_000_000} million pixels are taken.");
        if (codec.FrameCount > 1)
            return Moving(codec, bytes.Length);
        return Still(codec) is { } still ? (still, "") : (null, "The picture breaks off in the middle.");
    }

    // Every frame is decoded and written anew, so that nothing but what is seen is left.
    private static (PictureFile? Picture, string Fault) Moving(SKCodec codec, int length)
    {
        var (width, height) = (codec.Info.Width, codec.Info.Height);
        if (length > MostMovingBytes)
            return (
                null,
                $"A moving picture has at most {MostMovingBytes / 1024} KB, since every visitor loads it; this one has {length / 1024}."
            );
        if (codec.FrameCount > MostFrames || (long)width * height * codec.FrameCount > MostMovingPixels)
            return (
                null,
                $"This moving picture has {codec.FrameCount} frames of {width} by {height}; that is too much."
            );
        var scale = Math.Min(1.0, (double)LongestSide / Math.Max(width, height));
        var info = new SKImageInfo(Scaled(width, scale), Scaled(height, scale));
        var bitmaps = new List<SKBitmap>();
        try
        {
            var frames = new SKWebpEncoderFrame[codec.FrameCount];
            using var whole = new SKBitmap(new SKImageInfo(width, height));
            for (var i = 0; i < frames.Length; i++)
            {
                // Each frame by itself from its beginning: what it needs of those before is looked up by the decoder.
                if (
                    codec.GetPixels(whole.Info, whole.GetPixels(), new SKCodecOptions(i))
                    is not (SKCodecResult.Success or SKCodecResult.IncompleteInput)
                )
                    return (null, "The picture breaks off in the middle.");
                var small = scale < 1 ? whole.Resize(info, new SKSamplingOptions(SKFilterMode.Linear)) : whole.Copy();
                bitmaps.Add(small);
                frames[i] = new SKWebpEncoderFrame(
                    small.PeekPixels(),
                    TimeSpan.FromMilliseconds(Math.Max(ShortestFrameMs, codec.FrameInfo[i].Duration))
                );
            }
            using var written = SKWebpEncoder.EncodeAnimated(
                frames,
                new SKWebpEncoderOptions(SKWebpEncoderCompression.Lossy, Quality)
            );
            return written is null
                ? (null, "This moving picture cannot be written anew.")
                : (new PictureFile(written.ToArray(), "image/webp", info.Width, info.Height, IsMoving: true), "");
        }
        finally
        {
            foreach (var bitmap in bitmaps)
                bitmap.Dispose();
        }
    }

    // Browsers show a frame of less as if it had a tenth of a second; what flickers faster nobody should be shown.
    private const int ShortestFrameMs = 20;

    private static int Scaled(int side, double scale) => Math.Max(1, (int)Math.Round(side * scale));

    // Decoded and written anew, so that nothing but the picture is left: no place it was taken, no hidden rest.
    private static PictureFile? Still(SKCodec codec)
    {
        using var decoded = Decode(codec);
        if (decoded is null)
            return null;
        var turned = Upright(decoded, codec.EncodedOrigin);
        try
        {
            var scale = Math.Min(1.0, (double)LongestSide / Math.Max(turned.Width, turned.Height));
            var info = new SKImageInfo(Scaled(turned.Width, scale), Scaled(turned.Height, scale));
            using var small = turned.Resize(info, new SKSamplingOptions(SKCubicResampler.Mitchell));
            using var image = SKImage.FromBitmap(small ?? turned);
            using var written = image.Encode(SKEncodedImageFormat.Webp, Quality);
            return new PictureFile(written.ToArray(), "image/webp", image.Width, image.Height, IsMoving: false);
        }
        finally
        {
            if (!ReferenceEquals(turned, decoded))
                turned.Dispose();
        }
    }

    // A JPEG can be decoded at eighths of its size, so that a camera's picture never stands in memory whole.
    private static SKBitmap? Decode(SKCodec codec)
    {
        var (width, height) = (codec.Info.Width, codec.Info.Height);
        var size =
            codec.EncodedFormat == SKEncodedImageFormat.Jpeg && Math.Max(width, height) > 2 * LongestSide
                ? codec.GetScaledDimensions(2f * LongestSide / Math.Max(width, height))
                : new SKSizeI(width, height);
        var decoded = new SKBitmap(new SKImageInfo(size.Width, size.Height, SKColorType.Rgba8888, SKAlphaType.Premul));
        if (
            codec.GetPixels(decoded.Info, decoded.GetPixels()) is SKCodecResult.Success or SKCodecResult.IncompleteInput
        )
            return decoded;
        decoded.Dispose();
        return null;
    }

    // Cameras note which way up they were held; what is written anew has no such note.
    private static SKBitmap Upright(SKBitmap picture, SKEncodedOrigin origin)
    {
        var degrees = origin switch
        {
            SKEncodedOrigin.RightTop => 90,
            SKEncodedOrigin.BottomRight => 180,
            SKEncodedOrigin.LeftBottom => 270,
            _ => 0,
        };
        if (degrees == 0)
            return picture;
        var turned =
            degrees == 180 ? new SKBitmap(picture.Width, picture.Height) : new SKBitmap(picture.Height, picture.Width);
        using var canvas = new SKCanvas(turned);
        canvas.Translate(turned.Width / 2f, turned.Height / 2f);
        canvas.RotateDegrees(degrees);
        canvas.Translate(-picture.Width / 2f, -picture.Height / 2f);
        using var image = SKImage.FromBitmap(picture);
        canvas.DrawImage(image, 0, 0, new SKSamplingOptions(SKFilterMode.Nearest));
        return turned;
    }

    private static string Found(byte[] bytes)
    {
        var start = System.Text.Encoding.ASCII.GetString(bytes.AsSpan(0, Math.Min(bytes.Length, 200))).TrimStart();
        return bytes.Length == 0 ? "the file is empty"
            : start.StartsWith("<svg", StringComparison.OrdinalIgnoreCase)
            || start.Contains("<svg", StringComparison.OrdinalIgnoreCase)
                ? "it is a drawing (SVG), which could carry scripts"
            : start.StartsWith("<!doctype", StringComparison.OrdinalIgnoreCase)
            || start.StartsWith("<html", StringComparison.OrdinalIgnoreCase)
                ? "it is a web page"
            : start.StartsWith("%PDF", StringComparison.Ordinal) ? "it is a PDF"
            : start.StartsWith('{') || start.StartsWith('[') ? "it is data (JSON)"
            : "its content is something else";
    }
}

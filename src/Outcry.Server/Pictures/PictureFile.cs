using SkiaSharp;

namespace Outcry.Server.Pictures;

/// <summary>A picture as it is kept: looked into, not believed by its name, and no larger than a callout can show.</summary>
/// <param name="MediaType">As found in the bytes.</param>
internal sealed record PictureFile(byte[] Bytes, string MediaType, int Width, int Height, bool IsMoving)
{
    /// <summary>Largest file taken, in bytes.</summary>
    public const int MostBytes = 8 * 1024 * 1024;

    /// <summary>Largest moving picture kept, in bytes: it is kept as it came, and every visitor loads it.</summary>
    public const int MostMovingBytes = 1024 * 1024;

    /// <summary>Longest side of a still picture as it is kept, in pixels: twice what a curtain shows.</summary>
    public const int LongestSide = 960;

    // A few bytes can claim to be a picture of any size; decoding it would take all memory there is.
    private const long MostPixels = 50_000_000;
    private const int Quality = 82;

    /// <summary>Looks into bytes; the picture, or a sentence for the person who sent them.</summary>
    public static (PictureFile? Picture, string Fault) Read(byte[] bytes)
    {
        using var data = SKData.CreateCopy(bytes);
        using var codec = SKCodec.Create(data);
        if (codec is null)
            return (null, $"This is no picture that browsers show: {Found(bytes)}. Take a PNG, JPEG, WebP or GIF.");
        var (width, height) = (codec.Info.Width, codec.Info.Height);
        if ((long)width * height > MostPixels)
            return (
                null,
                $"The picture is {width} by {height}; at most {MostPixels / 1_000_000} million pixels are taken."
            );
        var isMoving = codec.FrameCount > 1;
        var type = codec.EncodedFormat switch
        {
            SKEncodedImageFormat.Png => "image/png",
            SKEncodedImageFormat.Jpeg => "image/jpeg",
            SKEncodedImageFormat.Webp => "image/webp",
            SKEncodedImageFormat.Gif => "image/gif",
            _ => null,
        };
        if (type is null)
            return (
                null,
                $"Pictures of the sort {codec.EncodedFormat} are not shown by every browser. Take a PNG, JPEG, WebP or GIF."
            );
        if (isMoving)
            return bytes.Length > MostMovingBytes
                ? (
                    null,
                    $"A moving picture has at most {MostMovingBytes / 1024} KB, since every visitor loads it; this one has {bytes.Length / 1024}."
                )
                : (new PictureFile(bytes, type, width, height, true), "");
        return Still(codec, width, height) is { } still ? (still, "") : (null, "The picture breaks off in the middle.");
    }

    // Decoded and written anew, so that nothing but the picture is left: no place it was taken, no hidden rest.
    private static PictureFile? Still(SKCodec codec, int width, int height)
    {
        using var decoded = SKBitmap.Decode(codec);
        if (decoded is null)
            return null;
        using var upright = Upright(decoded, codec.EncodedOrigin);
        (width, height) = (upright.Width, upright.Height);
        var scale = Math.Min(1.0, (double)LongestSide / Math.Max(width, height));
        var info = new SKImageInfo(
            Math.Max(1, (int)Math.Round(width * scale)),
            Math.Max(1, (int)Math.Round(height * scale))
        );
        using var small = upright.Resize(info, new SKSamplingOptions(SKCubicResampler.Mitchell));
        using var image = SKImage.FromBitmap(small ?? upright);
        using var written = image.Encode(SKEncodedImageFormat.Webp, Quality);
        return new PictureFile(written.ToArray(), "image/webp", image.Width, image.Height, IsMoving: false);
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
            return picture.Copy();
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

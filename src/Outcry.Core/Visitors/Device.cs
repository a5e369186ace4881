namespace Outcry.Core.Visitors;

/// <summary>What a visitor holds, told by the width of the view.</summary>
public enum Device
{
    /// <summary>1,024 CSS pixels or wider.</summary>
    Desktop,

    /// <summary>640 to 1,023 CSS pixels.</summary>
    Tablet,

    /// <summary>Under 640 CSS pixels.</summary>
    Phone,
}

/// <summary>Reads the device from what a browser reports.</summary>
public static class DeviceReader
{
    /// <summary>The device for a view width in CSS pixels; a width of 0 or less is unknown and read as a desktop.</summary>
    public static Device FromViewWidth(int cssPixels) =>
        cssPixels switch
        {
            <= 0 or >= 1024 => Device.Desktop,
            >= 640 => Device.Tablet,
            _ => Device.Phone,
        };
}

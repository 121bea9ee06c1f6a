using Allowance.Core.Tables;

namespace Allowance.Web;

/// <summary>How much room the board of a table has on the screen that asks: told by the page in a cookie once it was seen there.</summary>
public static class ScreenRoom
{
    public const string Cookie = "board";

    private static readonly Room Laptop = new(940, 700), Phone = new(390, 470);

    /// <summary>What was told; else a laptop's, or a phone's where the browser says that it is one.</summary>
    public static Room Of(HttpRequest request)
    {
        string[] sides = (request.Cookies[Cookie] ?? "").Split('x');
        return sides.Length == 2 && int.TryParse(sides[0], out int width) && int.TryParse(sides[1], out int height) && Room.Of(width, height) is { } told ? told
            : request.Headers["Sec-CH-UA-Mobile"] == "?1" ? Phone : Laptop;
    }
}

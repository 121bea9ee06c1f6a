namespace Allowance.Core.Numbers;

/// <summary>Numbers in words, as they are written: "seven", "forty-two".</summary>
public static class NumberWords
{
    private static readonly string[] Ones =
    [
        "zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten",
        "eleven", "twelve", "thirteen", "fourteen", "fifteen", "sixteen", "seventeen", "eighteen", "nineteen",
    ];

    private static readonly string[] Tens = ["", "", "twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety"];

    /// <param name="n">From 0 to 1000.</param>
    public static string Of(int n) => n switch
    {
        < 20 => Ones[n],
        < 100 => Tens[n / 10] + (n % 10 == 0 ? "" : "-" + Ones[n % 10]),
        < 1000 => Ones[n / 100] + " hundred" + (n % 100 == 0 ? "" : " and " + Of(n % 100)),
        _ => "a thousand",
    };
}

using Allowance.Core.Forms;
using Allowance.Core.Numbers;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Guide;

/// <summary>The forms: all of them with what each is good for, or every number of one.</summary>
public sealed class FormsModel(Household household) : PageModel
{
    /// <summary>On the page of all forms these are shown, where a form reaches so far.</summary>
    private static readonly int[] Samples = [3, 5, 7, 10, 14];

    /// <summary>Which of the many pictures; 0 is the fixed one.</summary>
    [BindProperty(SupportsGet = true, Name = "picture")]
    public int PictureNumber { get; set; }

    /// <summary>small, middle or large.</summary>
    [BindProperty(SupportsGet = true)]
    public string Size { get; set; } = "middle";

    [BindProperty(SupportsGet = true)]
    public string Labels { get; set; } = "fives";

    [BindProperty(SupportsGet = true)]
    public string Shape { get; set; } = "straight";

    [BindProperty(SupportsGet = true)]
    public string Fill { get; set; } = "rows";

    /// <summary>The form whose numbers are all shown; null for the page of all forms.</summary>
    public FormFacts? One { get; private set; }

    /// <summary>Every number of every form, to look over at once.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Every { get; set; }

    public static IEnumerable<FormFacts> All => FormTable.All.Where(f => f.Form != Form.None);

    public static IReadOnlyList<string> Sizes { get; } = ["small", "middle", "large"];

    public PictureStyle Style => household.PictureStyle with
    {
        Labels = Enum.TryParse<LineLabels>(Labels, true, out var labels) ? labels : LineLabels.Fives,
        Shape = Enum.TryParse<LineShape>(Shape, true, out var shape) ? shape : LineShape.Straight,
        Fill = Enum.TryParse<FrameFill>(Fill, true, out var fill) ? fill : FrameFill.Rows,
    };

    public IActionResult OnGet(string? form)
    {
        PictureNumber = Math.Clamp(PictureNumber, 0, 999);
        if (!Sizes.Contains(Size)) Size = "middle";
        if (form is null) return Page();
        One = All.FirstOrDefault(f => f.Id == form);
        return One is null ? NotFound() : Page();
    }

    /// <summary>The numbers shown of a form: all to 30, and beyond that the tens.</summary>
    public IEnumerable<int> Numbers(FormFacts form) => One is null && !Every
        ? Samples.Where(n => n >= form.Low && n <= form.High).DefaultIfEmpty(form.High)
        : Enumerable.Range(form.Low, form.High - form.Low + 1).Where(n => n <= 30 || n <= 100 && n % 10 == 0 || n % 250 == 0);

    public static string Heard(int n) => NumberWords.Of(n);

    public string Link(int? picture = null, string? size = null, string? labels = null, string? shape = null, string? fill = null) =>
        $"?picture={picture ?? PictureNumber}&size={size ?? Size}"
        + (One?.Form == Form.Line ? $"&labels={labels ?? Labels}&shape={shape ?? Shape}" : "")
        + (One?.Form is Form.TenFrame or Form.DoubleTenFrame ? $"&fill={fill ?? Fill}" : "")
        + (Every ? "&every=true" : "");
}

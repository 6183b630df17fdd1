using RapidLedger.Formats;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;

namespace RapidLedger.Server.Archives;

/// <summary>The whole shop as a file to take along.</summary>
internal static class ArchiveEndpoints
{
    public static void MapArchives(this IEndpointRouteBuilder routes) =>
        routes
            .MapGet(
                "/api/archive",
                (bool? stock, bool? shoppers, bool? codes, bool? orders, OpenShop shop, ShopExport export, Gatekeeper gate) =>
                {
                    if (!shop.Setup.IsThere)
                        return Answers.Refused(
                            StatusCodes.Status409Conflict,
                            [new("", ProblemCode.Conflict, "There is no shop yet. Open one first.")]
                        );
                    // Whoever gets here without a sign-in gets no names.
                    if ((shoppers == true || orders == true) && !gate.IsPrivate)
                        return Answers.Refused(
                            StatusCodes.Status403Forbidden,
                            [
                                new(
                                    shoppers == true ? "/shoppers" : "/orders",
                                    ProblemCode.NotAllowed,
                                    "Shoppers and orders go out only where the program is not served to others."
                                ),
                            ]
                        );
                    var files = export.Files(new(stock == true, shoppers == true, codes == true, orders == true));
                    // A large shop's orders are more than is held in memory.
                    var zip = new FileStream(
                        Path.GetTempFileName(),
                        FileMode.Create,
                        FileAccess.ReadWrite,
                        FileShare.None,
                        1 << 16,
                        FileOptions.DeleteOnClose
                    );
                    ArchiveFolder.WriteZip(files, zip);
                    zip.Position = 0;
                    var name = string.Concat(
                        shop.Settings.Name.ToLowerInvariant().Select(letter => char.IsAsciiLetterOrDigit(letter) ? letter : '-')
                    );
                    return Results.File(zip, "application/zip", $"{name.Trim('-')}.zip");
                }
            )
            .Produces(200, contentType: "application/zip")
            .Refuses(400, 403, 409, 422, 503)
            .Says("archive", "shop", "The whole shop as files, in a zip");
}

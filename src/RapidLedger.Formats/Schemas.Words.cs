using System.Text.Json.Nodes;

namespace RapidLedger.Formats;

/// <content>What each member is, in words.</content>
public static partial class Schemas
{
    // By the name of the member, or by what it stands in and its name where the name alone could mean several things.
    private static readonly Dictionary<string, string> Meanings = new(StringComparer.Ordinal)
    {
        ["$schema"] = "The address of the schema, for editors. It changes nothing.",
        ["title"] = "What the case shows.",
        ["store"] = "The store's settings.",
        ["catalogue"] = "What the store sells.",
        ["promotions"] = "The promotions, in any order: they apply by rank.",
        ["batches"] = "Codes made or brought by the many, by the id of the batch.",
        ["usage"] = "By the id of a promotion, how often it was used before this cart.",
        ["cart"] = "What is priced, for whom, when.",
        ["expect"] = "Any part of the result that must come out. Members of objects may be left out; lists are held whole, in order.",

        // Store.
        ["currency"] = "An ISO 4217 code.",
        ["store/currency"] = "The currency that the store keeps its books in (ISO 4217).",
        ["cart/currency"] = "The currency that the cart is paid in (ISO 4217). Left out: the store's.",
        ["timeZone"] = "An IANA time zone, in which local times are meant. Left out: UTC.",
        ["rounding"] = "How halves of the smallest unit are rounded. Left out: halfUp.",
        ["policy"] =
            "Which promotions apply where not all can: those that save the shopper most, or each in order of rank. Left out: best.",
        ["rates"] = "The rates.",
        ["store/rates"] = "By currency, how much of it one unit of the store's currency is.",
        ["tax/rates"] = "The tax rates, by class and place.",
        ["families"] = "Named groups of promotions.",
        ["onePerCart"] = "Whether at most one promotion of the family applies in a cart.",
        ["shipping"] = "What delivery comes to.",
        ["store/shipping"] = "The delivery methods.",
        ["tax"] = "Tax in it or on top of it, as the store's mode says.",
        ["store/tax"] = "How the store's prices and taxes go together.",
        ["mode"] = "Whether prices are without tax, include it, or have it added.",
        ["shippingClass"] = "The tax class of delivery.",
        ["class"] = "A tax class.",
        ["place"] = "A country or region (ISO 3166).",
        ["percent"] = "Percent, 0 to 100.",
        ["marginFloor"] = "The share of net takings, in percent, that the store wants to keep after cost.",
        ["language"] = "A language (BCP 47).",
        ["store/language"] = "The language of texts that are not by language (BCP 47).",
        ["cart/language"] = "The language that the shopper reads (BCP 47).",
        ["carrier"] = "Who delivers.",
        ["bands"] = "The price by weight: the first band that the cart's weight does not exceed.",
        ["toGrams"] = "Up to how many grams, this included. Left out: any weight.",
        ["cost"] = "What it costs the store.",
        ["places"] = "Where to.",

        // Catalogue.
        ["categories"] = "The categories.",
        ["parent"] = "The category that this one lies in; null: in none.",
        ["products"] = "The products.",
        ["variants"] = "What can be bought of the product: one SKU each.",
        ["category"] = "The id of a category. Categories in it belong to it.",
        ["brand"] = "A brand's name.",
        ["tags"] = "Free words by which goods can be selected.",
        ["tag"] = "A tag.",
        ["option"] = "All variants with an option, of one product or of all, those to come too.",
        ["taxClass"] = "The tax class.",
        ["options"] = "What tells this variant from others, such as size and colour.",
        ["regular"] = "The regular price.",
        ["lines/regular"] = "The regular price of all units.",
        ["totals/regular"] = "All lines at regular prices.",
        ["price"] = "A price.",
        ["prices"] = "Prices of its own in other currencies of the store, by currency.",
        ["prices/regular"] = "The regular price in this currency.",
        ["prices/price"] = "The reduced price in this currency. Left out: not reduced there.",
        ["gone"] = "Taken out of the shop: known by its id, but it cannot be bought, and a term that names it holds nothing.",
        ["variants/price"] = "The current price, not above the regular one. Left out: the regular price.",
        ["shipping/price"] = "What the shopper pays for delivery.",
        ["take/price"] = "The price that is left.",
        ["grams"] = "Weight in grams.",
        ["stock"] = "How many units there are for gifts. Left out: as many as are asked for.",
        ["product"] = "The id of a product.",
        ["sku"] = "The SKU of a variant.",
        ["name"] = "A name.",
        ["promotion/name"] = "What the merchant calls it. Left out: the id.",

        // Promotion.
        ["id"] = "An id of its own.",
        ["label"] = "What the shopper reads: a text, or texts by language (BCP 47).",
        ["note"] = "Why it exists, for the merchant.",
        ["state"] = "The state.",
        ["promotion/state"] = "Only live promotions apply. Left out: live.",
        ["rank"] = "The order of application, lower first; then by id. Left out: 100.",
        ["trigger"] = "How it starts: by itself, or by a code. Left out: by itself.",
        ["automatic"] = "It starts by itself.",
        ["codes"] = "The codes.",
        ["trigger/codes"] = "Codes that start it; letters in either case, without spaces.",
        ["cart/codes"] = "The codes that the shopper entered.",
        ["trigger/batches"] = "Ids of batches whose codes start it.",
        ["window"] = "From when to when it runs. Left out: always.",
        ["start"] = "The first moment, local time in the store's zone.",
        ["end"] = "The first moment at which it runs no more, local time in the store's zone.",
        ["graceMinutes"] = "So many minutes before the start and after the end it still applies, for carts that are under way.",
        ["window/repeat"] = "Which times within the window it runs: a recurrence rule (RFC 5545).",
        ["lasts"] = "How long each occurrence lasts (ISO 8601 duration).",
        ["when"] = "What must be true of the cart. Left out: nothing.",
        ["rewards"] = "What it gives.",
        ["limits"] = "How often it may be used. Left out: as often as anybody likes.",
        ["limits/total"] = "Uses in all.",
        ["perShopper"] = "Uses by one shopper.",
        ["perDay"] = "Uses in one day of the store's zone.",
        ["budget"] = "What it may take off in all.",
        ["usage/budget"] = "What it has taken off so far.",
        ["stacking"] = "Which others it may meet in one cart. Left out: any.",
        ["allow"] = "Any other, none, only those named, or all except those named.",
        ["with"] = "Ids of promotions, or families, that are meant.",
        ["family"] = "The family that it belongs to.",
        ["says"] = "What the shopper reads of it beside its label, and where.",
        ["near"] = "While something is missing. Parts in braces are filled in: {label} {missing} {reward} {saved} {ends} {left}.",
        ["says/reached"] = "Once it applies.",
        ["says/refused"] = "When its code is not good.",
        ["show"] = "Where it is offered: beside an item, in the basket, among the offers of today.",

        // Selections and conditions.
        ["in"] = "What is taken in: any of these.",
        ["out"] = "What is left out of it.",
        ["fullPriceOnly"] = "Only what is sold at its regular price.",
        ["priceFrom"] = "Only what costs at least this, at current prices.",
        ["priceTo"] = "Only what costs at most this, at current prices.",
        ["all"] = "All of these must be true.",
        ["term/all"] = "Everything.",
        ["any"] = "At least one of these must be true.",
        ["none"] = "None of these may be true.",
        ["quantity"] = "How many units.",
        ["condition/quantity"] = "How many units of the selection are in the cart.",
        ["distinct"] = "How many different items of the selection are in the cart.",
        ["only"] = "Nothing else is in the cart.",
        ["weight"] = "What the cart weighs.",
        ["condition/shopper"] = "Who buys: one of these.",
        ["is"] = "Whether the shopper is known.",
        ["groups"] = "Groups of shoppers.",
        ["ids"] = "Ids of shoppers.",
        ["orders"] = "How many orders the shopper has placed before.",
        ["spent"] = "What the shopper has spent before, in the store's currency.",
        ["condition/destination"] = "Where the cart is delivered.",
        ["condition/channel"] = "Through which channels it is bought.",
        ["condition/currency"] = "In which currencies it is paid (ISO 4217).",
        ["condition/method"] = "By which methods it is delivered.",
        ["op"] = "How it is compared.",
        ["n"] = "With what number.",
        ["basis"] = "Whether prices count before or after what other promotions took off. Left out: before.",

        // Rewards.
        ["kind"] = "Which kind of reward.",
        ["on"] = "What it takes from.",
        ["of"] = "Which items.",
        ["take"] = "How the price comes down.",
        ["per"] = "Whether each unit or the cart as a whole comes down.",
        ["times/per"] = "Once for each so many units or so much spent.",
        ["pick"] = "Which units go first where not all can.",
        ["maxUnits"] = "So many units at the most.",
        ["maxDiscount"] = "So much at the most.",
        ["buy"] = "What must be bought.",
        ["schedule/buy"] = "From so many units bought.",
        ["get"] = "What comes down for it.",
        ["schedule/get"] = "So many units come down.",
        ["same"] = "Whether what is bought and got must be of the same item or product.",
        ["repeat"] = "How many times in one cart. Left out: once.",
        ["schedule"] = "By how many units are bought, how many come down.",
        ["atMost"] = "So many times or units at the most.",
        ["spend"] = "What is spent.",
        ["condition/spend"] = "What the selection comes to is within these bounds.",
        ["measure"] = "What counts: units or what they come to.",
        ["apply"] = "Only the highest step that is reached, all of them, or each on what lies beyond its threshold.",
        ["steps"] = "The thresholds, rising.",
        ["from"] = "At least this.",
        ["to"] = "At most this.",
        ["slots"] = "The places of one set.",
        ["fill"] = "Which units fill the sets. Left out: dearest.",
        ["give"] = "What is given.",
        ["skus"] = "SKUs, those first that come first.",
        ["sameAs"] = "The same as what is in the cart of this selection.",
        ["times"] = "How often it is given. Left out: once.",
        ["picked"] = "Whether the shopper picks.",
        ["levels"] = "What is marked down, and how far; the first that fits an item counts.",
        ["methods"] = "Only these delivery methods. Left out: all.",
        ["fixed"] = "So many points.",
        ["each"] = "Points for each so much spent.",
        ["points"] = "Points.",
        ["keepRest"] = "Whether what is not used stays on the code.",
        ["amount"] = "An amount.",
        ["take/amount"] = "So much comes off.",
        ["credit/amount"] = "What the code is good for.",

        // Batches and usage.
        ["usesEach"] = "In how many orders each code can be used. Left out: one.",
        ["lastDay"] = "The last day on which the codes are good, in the store's zone.",
        ["void"] = "Whether it was made void.",
        ["batches/codes"] = "The codes and what is known of each.",
        ["used"] = "How many orders used it.",
        ["drawn"] = "What was paid with it so far, in the store's currency.",
        ["total"] = "In all.",
        ["usage/total"] = "Uses in all.",
        ["totals/total"] = "What is to be paid before credit: goods, delivery and tax.",
        ["shopper"] = "What the shopper reads.",
        ["usage/shopper"] = "Uses by this shopper.",
        ["cart/shopper"] = "Who buys. Left out: a guest.",
        ["usage/today"] = "Uses today.",

        // Cart.
        ["at"] = "Where.",
        ["cart/at"] = "When it is priced, with offset (ISO 8601).",
        ["problems/at"] = "Where in the document, as a JSON pointer (RFC 6901).",
        ["progress/at"] = "How far the cart is.",
        ["channel"] = "Where it is bought. Left out: web.",
        ["method"] = "The id of the delivery method.",
        ["destination"] = "A country or region (ISO 3166).",
        ["picks"] = "By the id of a promotion, the gifts that were picked: one SKU for each unit.",
        ["guestKey"] = "What the shop knows a guest by, such as a hash of an address: for limits per shopper.",
        ["lines"] = "What is bought.",

        // Results.
        ["problems"] = "Why it is refused.",
        ["code"] = "A code.",
        ["problems/code"] = "What is wrong, as one word.",
        ["message"] = "The same in words.",
        ["goods"] = "At current prices, markdowns included.",
        ["net"] = "What is to be paid for it after all reductions.",
        ["margin"] = "What is left after cost; null where the cost is not known.",
        ["contribution"] = "What is left after the cost of goods, gifts and delivery; null where a cost is not known.",
        ["parts"] = "What each promotion took off, by rank.",
        ["promotion"] = "The id of a promotion.",
        ["gifts"] = "What is given.",
        ["value"] = "What it costs at current prices.",
        ["applied"] = "Whether it applies.",
        ["units"] = "How many units.",
        ["toPick"] = "What the shopper can still pick.",
        ["items"] = "Of which items.",
        ["giftOut"] = "Its gift ran short.",
        ["reason"] = "Why it does not apply, as one word.",
        ["blockedBy"] = "Which promotions that apply keep it out.",
        ["status"] = "What became of the code.",
        ["conflict/status"] = "The status of the answer.",
        ["progress"] = "How far the cart is to each ladder and threshold that starts by itself.",
        ["reached"] = "Whether it is reached.",
        ["totals"] = "What the cart comes to.",
        ["discount"] = "What was taken off goods.",
        ["giftValue"] = "What the gifts are worth.",
        ["shippingDiscount"] = "What was taken off delivery.",
        ["shippingUnavailable"] = "The delivery method does not go there.",
        ["credit"] = "What is paid with credit.",
        ["due"] = "What is left to pay.",
        ["saving"] = "What the shopper saves in all.",
        ["taxes"] = "The tax by class.",
        ["base"] = "What the tax is on: with it where prices include it.",
        ["proved"] = "Whether no other choice of promotions is known to be able to save more.",
        ["gap"] = "By how much at most another choice could be worth more.",
        ["nudges"] = "What is missing to the next promotion or step.",
        ["add"] = "What could be added for it.",
        ["saves"] = "What that would save.",
        ["missing"] = "How much is missing.",

        // The store interface.
        ["promotions/from"] = "Where it took its amount: off goods, off the order, or as credit.",
        ["type"] = "What kind of problem, as an address (RFC 9457).",
        ["conflict/title"] = "What kind of problem, in words.",
        ["detail"] = "The first problem in words.",
        ["edition"] = "The number of the edition that was priced by.",
        ["shown"] = "What the shopper is shown and agrees to.",
        ["result"] = "What the cart comes to.",
        ["order/state"] = "Waiting for payment, paid, cancelled or returned, or waited too long.",
        ["placedAt"] = "When it was placed.",
        ["heldUntil"] = "Until when it waits for payment; null once it no longer does.",
        ["rehearsal"] = "Whether it was placed on a clock that was set, so that it uses nothing up.",
        ["change"] = "The number of its latest change, for the feed of orders.",
        ["redemptions"] = "What each promotion was used for.",
        ["returned"] = "What was given back.",
        ["returned/units"] = "Units given back by line, gifts after the others.",
        ["returned/amount"] = "Given back in all.",
        ["now"] = "Given back this time.",
        ["toCredit"] = "Of it, what goes back to cards.",
        ["toMoney"] = "Of it, what is paid back.",
        ["cards"] = "What goes back to each card.",
        ["waiting"] = "What was given back to it and can be used once the card is usable again.",
        ["usable"] = "Whether the card can be used now.",
    };

    /// <summary>What a member is; null if nothing is said of it.</summary>
    private static string? MeaningOf(string owner, string name) =>
        Meanings.GetValueOrDefault($"{owner}/{name}") ?? Meanings.GetValueOrDefault(name);

    // Every member of every form is told; what only must hold between members is not a form.
    private static T Told<T>(T node, string owner)
        where T : JsonNode
    {
        if (node is JsonArray list)
            foreach (var one in list)
                if (one is not null)
                    Told(one, owner);
        if (node is not JsonObject form)
            return node;
        var isForm = form["additionalProperties"] is JsonValue;
        if (isForm && (string?)form["properties"]?["kind"]?["const"] is { } kind)
            owner = kind;
        foreach (var (name, value) in form.ToArray())
        {
            if (value is null)
                continue;
            if (name is not ("properties" or "$defs"))
            {
                if (name is not "if")
                    Told(value, owner);
                continue;
            }

            foreach (var (member, of) in value.AsObject().ToArray())
            {
                if (of is not JsonObject inner)
                    continue;
                if (isForm && name == "properties" && MeaningOf(owner, member) is { } meaning)
                    inner["description"] = meaning;
                Told(inner, member);
            }
        }

        return node;
    }
}

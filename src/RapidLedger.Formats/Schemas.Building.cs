using System.Text.Json.Nodes;

namespace RapidLedger.Formats;

/// <content>What forms are put together from.</content>
public static partial class Schemas
{
    private static JsonObject Always(bool value) => new() { ["const"] = value };

    private static JsonObject Root(string title, JsonObject schema)
    {
        var root = new JsonObject
        {
            ["$schema"] = Dialect,
            ["$id"] = $"urn:rapid-ledger:{title.Split(' ')[^1]}",
            ["title"] = title,
        };
        foreach (var (name, value) in schema)
            root[name] = value?.DeepClone();
        return Told(root, title.Split(' ')[^1]);
    }

    private static JsonObject With(JsonObject schema)
    {
        schema["$defs"] = Definitions();
        return schema;
    }

    private static JsonObject Ref(string name) => new() { ["$ref"] = $"#/$defs/{name}" };

    private static JsonObject Whole(int least, int? most = null)
    {
        var whole = new JsonObject { ["type"] = "integer", ["minimum"] = least };
        if (most is { } bound)
            whole["maximum"] = bound;
        return whole;
    }

    private static JsonObject Words(params string[] words) => new() { ["enum"] = new JsonArray([.. words.Select(word => (JsonNode)word)]) };

    // Decided by what is there, so that one wrong value is told by one error: where a value may be of several forms, it is held to one.
    private static JsonObject If(JsonObject test, JsonObject then, JsonObject? otherwise = null)
    {
        var form = new JsonObject { ["if"] = test.DeepClone(), ["then"] = then.DeepClone() };
        if (otherwise is not null)
            form["else"] = otherwise.DeepClone();
        return form;
    }

    // Of a form whatever parts there are: nothing must be there, and what may be of several forms has the members of all.
    private static JsonObject AnyPart(JsonObject form)
    {
        if (form["if"] is not null && form["then"]!["properties"] is not null)
        {
            var members = new JsonObject();
            foreach (var one in (JsonNode[])[form["then"]!, form["else"]!])
            foreach (var (name, value) in one["properties"]!.AsObject())
                members[name] = value!.DeepClone();
            members.Remove("applied");
            if (form["then"]!["properties"]!["applied"] is not null)
                members["applied"] = Flag;
            return AnyPart(Obj([], members));
        }

        var part = new JsonObject();
        foreach (var (name, value) in form)
        {
            if (name is "required" or "minItems")
                continue;
            part[name] = (name, value) switch
            {
                ("properties", JsonObject members) => new JsonObject(
                    members.Select(member => KeyValuePair.Create<string, JsonNode?>(member.Key, AnyPart(member.Value!.AsObject())))
                ),
                ("items", JsonObject items) => AnyPart(items),
                _ => value?.DeepClone(),
            };
        }

        return part;
    }

    private static JsonObject TextOr(JsonObject text, JsonObject other) => If(Text, text, other);

    private static JsonObject Map(JsonObject of) => new() { ["type"] = "object", ["additionalProperties"] = of };

    private static JsonObject List(JsonObject of, int least = 0)
    {
        var list = new JsonObject { ["type"] = "array", ["items"] = of.DeepClone() };
        if (least > 0)
            list["minItems"] = least;
        return list;
    }

    private static JsonObject ByKind(IEnumerable<(string Name, Form Form)> kinds)
    {
        var forms = kinds.ToArray();
        return new()
        {
            ["type"] = "object",
            ["properties"] = new JsonObject { ["kind"] = Words([.. forms.Select(one => one.Name)]) },
            ["required"] = new JsonArray("kind"),
            ["allOf"] = new JsonArray([.. forms.Select(one => If(Way(["kind"], [], ("kind", Const(one.Name))), Kind(one.Name, one.Form)))]),
        };
    }

    private static JsonObject Const(string word) => new() { ["const"] = word };

    private static JsonObject Kind(string name, Form form)
    {
        form.Members["kind"] = Const(name);
        return Also(Obj(["kind", .. form.Required], form.Members), form.Rules);
    }

    // What must hold between members too.
    private static JsonObject Also(JsonObject form, params JsonObject[] rules)
    {
        if (rules.Length > 0)
            form["allOf"] = new JsonArray([.. rules]);
        return form;
    }

    // What must be there, what must not, and what must be so where it is there.
    private static JsonObject Way(string[] there, string[] notThere, params (string Name, JsonObject Form)[] so)
    {
        var members = new JsonObject();
        foreach (var name in there)
            members[name] = true;
        foreach (var name in notThere)
            members[name] = false;
        foreach (var (name, form) in so)
            members[name] = form.DeepClone();
        var way = new JsonObject { ["type"] = "object" };
        if (members.Count > 0)
            way["properties"] = members;
        if (there.Length > 0)
            way["required"] = new JsonArray([.. there.Select(name => (JsonNode)name)]);
        return way;
    }

    private static JsonObject Needed(JsonObject form)
    {
        form["minProperties"] = 1;
        return form;
    }

    private static JsonObject Needs(JsonObject form, params (string Name, string[] Others)[] needs)
    {
        form["dependentRequired"] = new JsonObject(
            needs.Select(one =>
                KeyValuePair.Create<string, JsonNode?>(one.Name, new JsonArray([.. one.Others.Select(name => (JsonNode)name)]))
            )
        );
        return form;
    }

    private static JsonObject One(params (string Name, JsonObject Form)[] members)
    {
        var one = Obj(
            [],
            new JsonObject(members.Select(member => KeyValuePair.Create<string, JsonNode?>(member.Name, member.Form.DeepClone())))
        );
        one["minProperties"] = 1;
        one["maxProperties"] = 1;
        return one;
    }

    private static JsonObject Obj(string[] required, JsonObject members)
    {
        var properties = new JsonObject();
        foreach (var (name, value) in members)
            properties[name] = value!.DeepClone();
        var schema = new JsonObject
        {
            ["type"] = "object",
            ["properties"] = properties,
            ["additionalProperties"] = false,
        };
        if (required.Length > 0)
            schema["required"] = new JsonArray([.. required.Select(name => (JsonNode)name)]);
        return schema;
    }
}

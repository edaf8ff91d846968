from django.db import migrations

ALL_FREE = {"own_quantities": True, "repeats": True, "instruments": True, "units": True, "plan": True}


def as_draft(document, prompts):
    """A plan as its teachers go on writing it: all of it is theirs; what benches found by themselves is left open."""
    left_open = [q["id"] for q in document["quantities"] if q["kind"] == "derived" and not q.get("given", True)]
    return {
        **document,
        "quantities": [{**q, "given": False} for q in document["quantities"]],
        "findings": [{**f, "given": False} for f in document["findings"]],
        "freedoms": ALL_FREE,
        "plan": {"draft": True, "prompts": prompts, "left_open": left_open, "freedoms": document.get("freedoms", {})},
    }


def write_in_lab_books(apps, schema_editor):
    """Each plan gets the lab book that it is written in, each practical the version that it is; what is said in the margin goes into the
    documents of its lab books.
    """
    Plan, PlanVersion, Practical = (apps.get_model("plans", name) for name in ("Plan", "PlanVersion", "Practical"))
    Book = apps.get_model("labbooks", "Book")
    for plan in Plan.objects.all():
        Book.objects.create(plan=plan, owner=plan.owner, document=as_draft(plan.document, plan.prompts))
    numbers = {}
    for practical in Practical.objects.order_by("pk"):
        document = as_draft(practical.document, practical.prompts)
        version = None
        if practical.plan_id is not None:
            version = next((v for v in PlanVersion.objects.filter(plan=practical.plan_id) if v.document == document), None)
        if version is None:
            numbers[practical.plan_id] = numbers.get(practical.plan_id, 0) + 1
            version = PlanVersion.objects.create(plan_id=practical.plan_id, number=numbers[practical.plan_id], document=document)
        practical.version = version
        practical.save(update_fields=["version"])
        for book in practical.books.all():
            book.document = {**book.document, "plan": {"prompts": practical.prompts, "freedoms": practical.document.get("freedoms", {})}}
            book.save(update_fields=["document"])


class Migration(migrations.Migration):

    dependencies = [
        ('labbooks', '0009_plans_are_lab_books'),
    ]

    operations = [
        migrations.RunPython(write_in_lab_books, migrations.RunPython.noop),
    ]

from django.urls import path

from ridgeback.collection import (
    enclosure_views,
    import_views,
    together_views,
    views,
    weighing_views,
)

app_name = "collection"
urlpatterns = [
    path("add/", views.choose, name="choose"),
    path("add/table/", import_views.import_table, name="import"),
    path("animals/add/", views.add_animals, name="add-animals"),
    path("animals/weigh/", weighing_views.weigh_all, name="weigh"),
    path("animals/together/", together_views.together, name="together"),
    path("animals/together/<slug:act>/", together_views.together, name="together"),
    path("animals/<int:pk>/move/", views.move, name="move"),
    path("animals/<int:pk>/delete/", views.delete_animal, name="delete-animal"),
    path("enclosures/add/", enclosure_views.add_enclosures, name="add-enclosures"),
    path("enclosures/<int:pk>/use/", enclosure_views.use, name="use"),
    path("enclosures/<int:pk>/archive/", enclosure_views.archive, name="archive"),
    path("enclosures/<int:pk>/duplicate/", enclosure_views.duplicate, name="duplicate"),
    path("enclosures/<int:pk>/plan-for/", enclosure_views.plan_for, name="plan-for"),
]

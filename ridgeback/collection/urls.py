from django.urls import path

from ridgeback.collection import views

app_name = "collection"
urlpatterns = [
    path("add/", views.choose, name="choose"),
    path("animals/add/", views.add_animals, name="add-animals"),
    path("animals/<int:pk>/move/", views.move, name="move"),
    path("animals/<int:pk>/delete/", views.delete_animal, name="delete-animal"),
    path("enclosures/add/", views.add_enclosures, name="add-enclosures"),
    path("enclosures/<int:pk>/use/", views.use, name="use"),
    path("enclosures/<int:pk>/archive/", views.archive, name="archive"),
    path("enclosures/<int:pk>/duplicate/", views.duplicate, name="duplicate"),
    path("enclosures/<int:pk>/plan-for/", views.plan_for, name="plan-for"),
]

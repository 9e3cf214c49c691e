from django.urls import path

from ridgeback.pens import views

app_name = "pens"
urlpatterns = [
    path("pens/", views.pens, name="list"),
    path("pens/new/", views.new, name="new"),
    path("pens/<int:pk>/", views.page, name="page"),
    path("pens/<int:pk>/edit/", views.edit, name="edit"),
    path("pens/<int:pk>/apply/", views.apply, name="apply"),
    path("pens/<int:pk>/undo/", views.undo, name="undo"),
    path("pens/<int:pk>/out/", views.out, name="out"),
    path("pens/<int:pk>/in/", views.back_in, name="in"),
    path("pens/<int:pk>/delete/", views.delete, name="delete"),
]

from django.urls import path

from ridgeback.history import views

app_name = "history"
urlpatterns = [
    path("animals/<int:pk>/history/", views.animal_history, name="animal"),
    path("enclosures/<int:pk>/history/", views.enclosure_history, name="enclosure"),
]
